import { adviseRepeat, leadOf, structureToKeep, wholeBonds, withCounted, type Advice } from '../repeat';
import type { ColourPicture } from '../raster';
import { lookStraight, sampleGeometry, structureOfSample, type SampleToLookAt } from '../sources';
import type { FoundStructure } from '../size';
import type { Pictures } from '../surface';
import { printNumber } from '../units';
import { countedPeriods } from './counted';
import { judgedInRepeat, piecesOfSample } from './pieces';
import { lead, type Recipe } from './recipe';
import type { RenderOptions } from './render';

/** Pixels at which it is judged how a sample is best made a repeat. */
const ADVICE_SIDE_PX = 512;

/** A method that was solved at small size, and how many pieces it broke. */
export interface TriedMethod {
  name: string;
  settings: Advice['settings'];
  pieces: number;
  broken: number;
}

/** A method as it was tried, with the repeat it made, linear light, some hundred pixels. */
export interface SolvedMethod extends TriedMethod {
  repeat: ColourPicture;
}

/** The method suggested, and those that were tried for it, the best first; none where the sample shows no pieces. */
export interface TriedAdvice<Method extends TriedMethod = SolvedMethod> extends Advice {
  tried: readonly Method[];
}

/** So many are tried, so that there is another to compare with; more only while pieces are broken by all. */
const LEAST_TRIED = 2;

/**
 * Which method of making a repeat suits a finish, and why. Where the sample shows pieces, candidates are solved at small size
 * and the one that breaks the fewest is suggested.
 * @throws Refusal when its frame cannot be; Stopped when the signal asks
 */
export async function adviceForRepeat(
  pictures: Pictures,
  recipe: Recipe,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'> = {},
): Promise<TriedAdvice> {
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: first.sampleId, ...(await pictures.info(first.sampleId)) };
  const geometry = sampleGeometry(first, leadOf(recipe.repeat).area, sample);
  const { used, usedMm } = geometry;
  const found = await structureOfSample(pictures, sample, first.preparation, options.cache);
  const { picture } = await lookStraight(pictures, sample, used, [], ADVICE_SIDE_PX);
  const counted = countedPeriods(first, geometry);
  const advice = adviseRepeat(picture, found, usedMm, recipe.repeat, counted);
  const advised = advice.settings;
  const known = await piecesOfSample(recipe, pictures);
  if (!known) return { ...advice, tried: [] };
  const tried: SolvedMethod[] = [];
  for (const settings of candidates(advised, withCounted(found, counted).structure)) {
    const as = { ...recipe, repeat: { ...recipe.repeat, ...settings } };
    const { judged, colour } = await judgedInRepeat(as, pictures, known, options);
    if (!judged) continue;
    tried.push({
      name: nameOf(settings),
      settings,
      pieces: judged.pieces,
      broken: judged.broken.length,
      repeat: colour,
    });
    if (tried.length >= LEAST_TRIED && tried.some(({ broken }) => broken === 0)) break;
  }
  const share = ({ broken, pieces }: TriedMethod) => broken / Math.max(1, pieces);
  tried.sort((a, b) => share(a) - share(b));
  const best = tried[0]?.settings ?? advised;
  // Where another one breaks fewer, what spoke for the one advised does not hold.
  const why = best === advised ? advised.why : advised.why.filter((sentence) => sentence !== advice.reason);
  return { reason: advice.reason, settings: { ...best, why: [...why, ...triedWords(tried)] }, tried };
}

/** A sample of whole periods, as catalogues have them, is off by less of one. */
const WHOLE = 0.03;
const isWhole = (axis: { period: number } | null) =>
  axis !== null && Math.abs(1 / axis.period - Math.round(1 / axis.period)) < WHOLE;

/**
 * Edge to edge where the sample shows whole bonds both ways, so that all of its pieces are kept; the method advised; then
 * others that may break fewer pieces.
 */
function candidates(advised: Advice['settings'], found: FoundStructure): Advice['settings'][] {
  const abut = (axis: Advice['settings']['across']) => ({ ...axis, closing: 'abut' as const });
  const kept = structureToKeep(found);
  const bonds = wholeBonds(kept);
  const whole: Advice['settings'][] =
    isWhole(bonds.across) && isWhole(bonds.up)
      ? [
          {
            ...advised,
            method: 'edges',
            across: abut(advised.across),
            up: abut(advised.up),
            structure: { across: null, up: null, stagger: 0 },
          },
        ]
      : [];
  const cut = { ...advised.across, closing: 'cut' as const };
  const all: Advice['settings'][] = [
    ...whole,
    advised,
    {
      ...advised,
      method: 'edges',
      across: cut,
      up: { ...advised.up, closing: 'cut' },
      structure: bonds,
    },
    { ...advised, method: 'composed', structure: kept },
  ];
  const key = ({ method, across, up, structure }: Advice['settings']) =>
    JSON.stringify(
      method === 'composed' ? [method, structure] : [method, across.closing, up.closing, structure],
    );
  return all.filter((one, k) => all.findIndex((other) => key(other) === key(one)) === k);
}

const NAMES = { cut: 'cut at its edges', blend: 'blended', abut: 'laid edge to edge', mirror: 'mirrored' };
const nameOf = ({ method, across }: Advice['settings']) =>
  method === 'composed' ? 'composed anew' : NAMES[across.closing];

function triedWords(tried: readonly TriedMethod[]): string[] {
  if (tried.length === 0) return [];
  const words = tried.map(
    ({ name, broken, pieces }) =>
      `${name} ${broken === 0 ? `none of ${printNumber(pieces, 0)}` : `${printNumber(broken, 0)} of ${printNumber(pieces, 0)}`}`,
  );
  return [`Tried at small size, pieces broken: ${words.join('; ')}.`];
}
