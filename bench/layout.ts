import { readFileSync } from 'node:fs';
import { defaultRecipe, encodeMap, lead, renderFinish, type MapName, type Recipe } from '@jossel/core/finish';
import { initialLayout, layPieces, solveLayout, type LayoutSettings } from '@jossel/core/layout';
import { halve, makePlane, mapChannels, seededRandom, type ColourPicture } from '@jossel/core/raster';
import { sizeKnownBy } from '@jossel/core/size';
import { atOnce } from '@jossel/core/steps';
import { StageCache, type Pictures } from '@jossel/core/surface';
import { figure } from '@jossel/core/units';
import { colouringSteps, pieceColours } from '../core/layout/colour';
import { coverOf } from '../core/layout/cover';
import { chooseFaces } from '../core/layout/faces';
import { reachOf, reliefOfLayout } from '../core/layout/relief';
import { laidPlanes } from '../core/layout/sampling';
import { decodePicture } from '../server/render/decode';

type Print = (what: string, value: string, reach?: string) => void;

const median = (times: number[]) => `${times.sort((a, b) => a - b)[times.length >> 1]!.toFixed(0)} ms`;
const mm = (value: number) => figure(value, 'mm', 'assumed');

/** A layout with about as many pieces. */
function ofPieces(kind: string, pieces: number): LayoutSettings {
  const layout = initialLayout(kind);
  const times = Math.sqrt(pieces / layPieces(layout).pieces.length);
  const { width, height } = layout.repeatMm;
  return { ...layout, repeatMm: { width: times * width, height: times * height } };
}

function benchGeometry(print: Print): void {
  for (const kind of ['running', 'hexagon', 'coursed-ashlar', 'coursed-rubble', 'crazy-paving']) {
    const layout = ofPieces(kind, 5000);
    let count = 0;
    const times = [1, 2, 3].map((seed) => {
      const t = performance.now();
      count = layPieces({ ...layout, seed }).pieces.length;
      return performance.now() - t;
    });
    print(`geometry of ${count} pieces, ${kind}`, median(times), '≤ 300 ms');
  }
}

/** What laying adds to a render, at 4096 px. */
function benchFull(print: Print): void {
  const settings = ofPieces('running', 200);
  settings.arris = { ...settings.arris, form: 'bevel', sizeMm: mm(3) };
  const { geometry, kindOf } = solveLayout(settings);
  const { repeatMm } = geometry;
  const px = { width: 4096, height: Math.round((4096 * repeatMm.height) / repeatMm.width) };
  const side = repeatMm.width;
  const planes = [0, 1, 2].map(() => makePlane(4096, 4096, 0.3).data);
  const areas = [{ left: 0, bottom: 0, width: side, height: side, closed: true }];
  const { faces } = chooseFaces(geometry, areas, settings.faces, seededRandom(1));
  const t = performance.now();
  const cover = coverOf(geometry, px, reachOf(settings));
  const from = { sizeMm: { width: side, height: side }, px: { width: 4096, height: 4096 } };
  const [r, g, b] = laidPlanes({ geometry, cover, faces, areas, continuations: [], from }, planes);
  const laid = { widthPx: px.width, heightPx: px.height, r: r!, g: g!, b: b! };
  const colours = pieceColours(geometry, settings, kindOf, [[0.3, 0.3, 0.3]]);
  atOnce(colouringSteps(laid, geometry, cover, settings, colours));
  reliefOfLayout(geometry, cover, settings);
  const ms = performance.now() - t;
  const square = (ms * 4096) / px.height;
  print(
    `laying ${geometry.pieces.length} pieces at 4096 × ${px.height} px: cover, faces, colour, relief (for 4096²)`,
    `${(ms / 1000).toFixed(1)} s (${(square / 1000).toFixed(1)} s)`,
    '≤ 6 s',
  );
}

const DRAFT_MAPS: MapName[] = ['colour', 'height', 'normal'];

async function benchDrafts(print: Print): Promise<void> {
  const full = await decodePicture(readFileSync('demo/samples/shell-limestone-honed.jpg'), 2e8);
  const levels: ColourPicture[] = [full];
  const pictures: Pictures = {
    info: async () => ({ widthPx: full.widthPx, heightPx: full.heightPx, sha256: 'demo' }),
    data: async () => {
      throw new Error('The bench has no data maps.');
    },
    level: async (_, n) => {
      while (levels.length <= n) levels.push(mapChannels(levels.at(-1)!, halve));
      return levels[n]!;
    },
  };
  const base = defaultRecipe(['a'], 'stone', full);
  lead(base).size = sizeKnownBy({ overall: mm(900) }, 'follows');
  for (const [kind, what, change] of [
    ['running', 'joint width', (l, i) => (l.joint = { ...l.joint, alongMm: mm(8 + i / 10) })],
    ['running', 'joint profile', (l, i) => (l.joint = { ...l.joint, depthMm: mm(2 + i / 10), profile: 'v' })],
    ['running', 'shade variation', (l, i) => (l.shade = { ...l.shade, lightness: 1 + i / 10 })],
    ['random-rubble', 'arrangement', (l, i) => (l.seed = 10 + i)],
  ] as [string, string, (l: LayoutSettings, i: number) => void][]) {
    const cache = new StageCache();
    const draw = async (recipe: Recipe) => {
      const finish = await renderFinish(recipe, pictures, { widthPx: 512, cache, maps: DRAFT_MAPS });
      for (const name of DRAFT_MAPS) encodeMap(finish, name);
    };
    await draw({ ...base, layout: initialLayout(kind) });
    const times: number[] = [];
    for (let i = 1; i <= 7; i++) {
      const layout = initialLayout(kind);
      change(layout, i);
      const t = performance.now();
      await draw({ ...base, layout });
      times.push(performance.now() - t);
    }
    print(`draft 512 px of a layout (${kind}), ${what} changed, core alone`, median(times), '≤ 300 ms');
  }
}

/** Times of layouts. */
export async function benchLayout(print: Print): Promise<void> {
  benchGeometry(print);
  await benchDrafts(print);
  benchFull(print);
}
