import {
  fractalNoise,
  halve,
  makeColourPicture,
  mapChannels,
  type ColourPicture,
  type Plane,
} from '../raster';
import type { RepeatSettings } from '../repeat';
import { sizeKnownBy } from '../size';
import { type Pictures } from '../surface';
import { figure } from '../units';
import { defaultRecipe, lead, openRecipe, renderFinish, type Recipe } from './index';

/** Grey, so that its light and a map of the same values are one and the same, and move alike or not at all. */
function grey(widthPx: number, heightPx: number): ColourPicture {
  const p = makeColourPicture(widthPx, heightPx);
  for (let i = 0; i < p.r.length; i++) {
    const [x, y] = [(i % widthPx) / 311, Math.floor(i / widthPx) / 311];
    // A grey patch and a stripe in it that come out flat.
    const flat = Math.hypot(x - 0.3, y - 0.3) < 0.08 ? 0.62 : 0;
    const v = flat || 0.35 + 0.16 * fractalNoise(x, y, 17, 17, 4, 0.6, 9);
    p.r[i] = p.g[i] = p.b[i] = v;
  }
  return p;
}
const [W, H] = [287, 203];
const PICTURE = grey(W, H);

const halved = async (level: number) => {
  let p = PICTURE;
  for (let k = 0; k < level; k++) p = mapChannels(p, halve);
  return p;
};
const SOURCES: Pictures = {
  info: async (id) => ({ widthPx: W, heightPx: H, sha256: id }),
  level: (_, level) => halved(level),
  data: (_, level) => halved(level),
};

function withMap(role: 'roughness' | 'gloss', repeat: Partial<RepeatSettings>): Recipe {
  const r = defaultRecipe(['colour'], 'plaster', { widthPx: W, heightPx: H });
  lead(r).size = sizeKnownBy({ overall: figure(574, 'mm', 'measured', 1) }, 'follows');
  lead(r).maps = [{ sampleId: 'map', role, greenRuns: 'up' }];
  r.colour = { ...r.colour, ruling: 'picture' };
  r.repeat = { ...r.repeat, ...repeat };
  return openRecipe(r);
}

/** How far a map is off the colour that has the same values, at the worst pixel. */
async function farthest(recipe: Recipe, widthPx: number): Promise<number> {
  const { maps } = await renderFinish(recipe, SOURCES, { widthPx, maps: ['colour', 'roughness'] });
  const { colour } = maps;
  const map = maps.roughness as Plane;
  expect([map.widthPx, map.heightPx]).toEqual([colour.widthPx, colour.heightPx]);
  const turned = lead(recipe).maps[0]!.role === 'gloss';
  let most = 0;
  for (let i = 0; i < map.data.length; i++) {
    const off = Math.abs((turned ? 1 - map.data[i]! : map.data[i]!) - colour.g[i]!);
    // Written so that a value that is none counts as well.
    if (!(off <= most)) most = off;
  }
  return most;
}

const edges = (across: RepeatSettings['across']['closing'], up: RepeatSettings['up']['closing']) => ({
  method: 'edges' as const,
  across: { closing: across, overlapMm: 130 },
  up: { closing: up, overlapMm: 90 },
});
const { composed: usual } = defaultRecipe(['colour'], 'plaster', PICTURE).repeat;
const composed = (more: Partial<RepeatSettings['composed']>) => ({
  method: 'composed' as const,
  composed: { ...usual, ...more },
});

test.each<[string, Partial<RepeatSettings>]>([
  ['blended', edges('blend', 'blend')],
  ['mirrored across, as it is up', edges('mirror', 'abut')],
  ['cut across, blended up', edges('cut', 'blend')],
  ['cut', edges('cut', 'cut')],
  ['composed, larger', composed({ widthMm: 811, heightMm: 437 })],
  ['composed, closed across only', composed({ widthMm: 300, heightMm: 380, closed: 'across' })],
  ['composed with turns', composed({ widthMm: 500, heightMm: 500, turning: 'quarter', mirrored: true })],
])('colour and maps of a set move together: %s', async (_, repeat) => {
  expect(await farthest(withMap('roughness', repeat), 251)).toBeLessThan(1e-4);
});

test('gloss moves as roughness does, counted the other way', async () => {
  expect(await farthest(withMap('gloss', composed({ widthMm: 700, heightMm: 400 })), 233)).toBeLessThan(1e-4);
});

test('so does detail that is made beyond the pixels, flat places included', async () => {
  const repeat = { ...edges('abut', 'abut'), enlarged: 2 };
  expect(await farthest(withMap('roughness', repeat), 2 * W)).toBeLessThan(1e-4);
});
