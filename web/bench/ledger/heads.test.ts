import { defaultRecipe, generatedRecipe, lead, renderFinish, type Recipe } from '@jossel/core/finish';
import { initialLayout } from '@jossel/core/layout';
import { sizeKnownBy } from '@jossel/core/size';
import { NO_PICTURES, SECTIONS } from '@jossel/core/surface';
import { figure } from '@jossel/core/units';
import { USUAL_LAYERS, usualLayer } from '@jossel/core/weathering';
import type { Sample } from '../../app/api';
import { leadingOf } from '../open/leading';
import { HEADS, type ForHeads } from './heads';

const SAMPLE = { id: 's', fileName: 'wall.png', widthPx: 1200, heightPx: 800 } as Sample;

function of(change: (recipe: Recipe) => void = () => undefined, more: Partial<ForHeads> = {}): ForHeads {
  const recipe = defaultRecipe(['s'], 'brick', { widthPx: 1200, heightPx: 800 });
  lead(recipe).size = sizeKnownBy({ overall: figure(600, 'mm', 'measured') }, 'follows');
  change(recipe);
  return {
    recipe,
    leading: leadingOf(recipe, [SAMPLE]),
    report: null,
    revisions: [],
    units: 'metric',
    ...more,
  };
}
const head = (section: keyof typeof HEADS, from: ForHeads) => HEADS[section].head(from);

test('every section has a line of its own, also before anything is drawn', () => {
  const from = of();
  const names = SECTIONS.map((section) => HEADS[section].name);
  expect(new Set(names).size).toBe(SECTIONS.length);
  for (const section of SECTIONS) expect(typeof head(section, from).figures).toBe('string');
});

test('the sample is named by its file, and what was done to it stands before', () => {
  expect(head('sample', of())).toEqual({ basis: undefined, figures: 'wall.png' });
  const prepared = of((r) => {
    const { preparation } = lead(r);
    preparation.frame = { corners: [] } as never;
    preparation.areas = [{ id: 'a' }, { id: 'b' }] as never;
    lead(r).maps = [{}] as never;
    r.sources.push({ ...lead(r), id: 'other' });
  });
  // What its frame is made of does not matter here, so the leading picture is given as it is.
  const leading = { ...prepared.leading, source: lead(prepared.recipe), sample: SAMPLE };
  expect(head('sample', { ...prepared, leading }).figures).toBe(
    '2 pictures, straightened, 2 picked, 2 maps, wall.png',
  );
  expect(
    head(
      'sample',
      of(() => undefined, { leading: leadingOf(of().recipe, []) }),
    ).figures,
  ).toBe('none yet');
});

test('the size rests on the weaker of its sides, and is printed in the units in use', () => {
  // The height follows the width by the proportions of the picture.
  expect(head('size', of()).basis).toBe('inferred');
  expect(head('size', of()).figures).toMatch(/600 × 400/);
  expect(
    head(
      'size',
      of(() => undefined, { units: 'imperial' }),
    ).figures,
  ).toBe('1\' 11 5/8" × 1\' 3 3/4"');
  const assumed = of((r) => {
    lead(r).size!.ruling.up = 'overall';
    lead(r).size!.overall.up = figure(390, 'mm', 'assumed');
  });
  expect(head('size', assumed).basis).toBe('assumed');
});

test('the size of a sample stands while its repeat is refused', () => {
  // More than 200 times as long as the sample.
  const refused = of((r) => {
    r.repeat.method = 'composed';
    r.repeat.composed = { ...r.repeat.composed, widthMm: 600 * 300 };
  });
  expect(refused.leading.plan).toBeNull();
  expect(head('repeat', refused).figures).toBe('');
  expect(head('size', refused).figures).toMatch(/600/);
});

test('the colour says the LRV that is asked for until one is measured of the picture, and the colourways then', async () => {
  const asked = of((r) => (r.colour = { ...r.colour, lrv: figure(41.5, 'LRV', 'measured') }));
  expect(head('colour', asked).figures).toBe('LRV 41.5');
  expect(head('colour', of()).figures).toBe('');
  const recipe = generatedRecipe('terrazzo');
  const { report } = await renderFinish(recipe, NO_PICTURES, { widthPx: 48, maps: ['colour'] });
  const drawn = of(() => undefined, { recipe, report });
  expect(head('colour', drawn).figures).toBe(`LRV ${report.lrv.toFixed(1)}`);
  const ways = [{ id: 'w' }, { id: 'v' }] as never;
  const two = { ...drawn, recipe: { ...recipe, colour: { ...recipe.colour, ways } } };
  expect(head('colour', two).figures).toBe(`LRV ${report.lrv.toFixed(1)}, 2 colourways`);
  expect(head('relief', drawn).figures).toMatch(/^[\d.]+.mm deep$/);
});

test('a generated finish is named after its family, and closes by itself once it is drawn', async () => {
  const recipe = generatedRecipe('terrazzo');
  const undrawn = of(() => undefined, { recipe, leading: leadingOf(recipe, []) });
  expect(head('sample', undrawn).figures).toBe('generated, terrazzo');
  expect(head('sample', undrawn).basis).toBeDefined();
  expect(head('size', undrawn).figures).not.toBe('');
  expect(head('repeat', undrawn).figures).toBe('');
  const { report } = await renderFinish(recipe, NO_PICTURES, { widthPx: 48, maps: ['colour'] });
  expect(head('repeat', { ...undrawn, report }).figures).toBe('closes by itself');
});

test('a layout says its bond and its piece, layers their names, those that are off left out', () => {
  expect(head('layout', of())).toEqual({ basis: undefined, figures: 'none' });
  const laid = of((r) => (r.layout = initialLayout('running')));
  expect(head('layout', laid).figures).toMatch(/^Running bond, [\d.]+ × [\d.]+.mm/i);
  expect(head('layout', laid).basis).toBe('assumed');
  expect(head('weathering', of()).figures).toBe('none');
  const layer = { ...usualLayer(USUAL_LAYERS[0]!.name, 'd'), name: 'Dust of the road' };
  const dusty = of((r) => (r.weathering = [layer, { ...layer, id: 'e', off: true }] as never));
  expect(head('weathering', dusty).figures).toBe('dust of the road');
});

test('the gloss is said with what the finish is made of where that is not a dielectric', () => {
  const gloss = (base: string) =>
    head(
      'response',
      of((r) => {
        r.response = { ...r.response, glossGu: figure(12, 'GU', 'measured'), base: { kind: base } as never };
      }),
    );
  expect(gloss('dielectric')).toEqual({ basis: 'measured', figures: '12 GU' });
  expect(gloss('metal').figures).toBe('12 GU, metal');
});

test('the last revision is said, and whether the draft is still what was issued', () => {
  expect(head('revision', of()).figures).toBe('none issued');
  const issued = (sameAsDraft: boolean) =>
    head(
      'revision',
      of(() => undefined, { revisions: [{ letter: 'A' }, { letter: 'B', sameAsDraft }] as never }),
    );
  expect(issued(true)).toEqual({ figures: 'B', remark: 'as drawn' });
  expect(issued(false)).toEqual({ figures: 'B', remark: 'draft differs' });
});
