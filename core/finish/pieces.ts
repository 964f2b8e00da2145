import {
  brokenPieces,
  labPlanes,
  leadOf,
  segmented,
  segmentedByJoints,
  whereCopiesMeet,
  type JointLook,
  type Pieces,
  type PiecesJudged,
} from '../repeat';
import { lookStraight, sampleGeometry, type SampleToLookAt } from '../sources';
import { open, type Check, type Pictures } from '../surface';
import { printNumber } from '../units';
import { repeatGeometry } from './geometry';
import { lead, type Recipe } from './recipe';
import { renderMaps, type RenderOptions } from './render';

/** The larger of sample and repeat is so many pixels long when their pieces are told apart. */
const JUDGED_PX = 512;
/** Widths that joints may have at most, as shares of the sample's shorter side: from tiles to rubble. */
const JOINT_WIDTHS = [0.012, 0.025, 0.05, 0.1];

/** Pieces of the sample a repeat is made from, and by what they are told apart. */
export interface SamplePieces {
  pieces: Pieces;
  look: JointLook;
  pxPerMm: number;
}

/**
 * Tells the pieces of a finish's leading sample apart, at a scale at which its repeat can be judged by them.
 * @returns null where it has none that joints part
 * @throws Refusal when its frame cannot be
 */
export async function piecesOfSample(
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
  pictures: Pictures,
): Promise<SamplePieces | null> {
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: first.sampleId, ...(await pictures.info(first.sampleId)) };
  const { used, usedMm } = sampleGeometry(first, leadOf(recipe.repeat).area, sample);
  const { repeatMm } = repeatGeometry(recipe, sample);
  const longestMm = Math.max(usedMm.width, usedMm.height, repeatMm.width, repeatMm.height);
  const pxPerMm = JUDGED_PX / longestMm;
  const sidePx = Math.round(Math.max(usedMm.width, usedMm.height) * pxPerMm);
  const { picture } = await lookStraight(pictures, sample, used, [], sidePx);
  const short = Math.min(picture.widthPx, picture.heightPx);
  const known = segmentedByJoints(
    labPlanes(picture),
    JOINT_WIDTHS.map((share) => share * short),
  );
  return known && { ...known, pxPerMm };
}

/**
 * Counts the pieces of a finished repeat and finds those that are cut or fused where copies of the sample meet.
 * @returns null where they are not told apart clearly in the repeat
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function judgedInRepeat(
  recipe: Recipe,
  pictures: Pictures,
  { pieces, look, pxPerMm }: SamplePieces,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'>,
): Promise<PiecesJudged | null> {
  const { repeatMm } = repeatGeometry(recipe, await pictures.info(lead(recipe).sampleId));
  const widthPx = Math.max(8, Math.round(repeatMm.width * pxPerMm));
  const { maps, placed } = await renderMaps(recipe, pictures, { ...options, widthPx, maps: ['colour'] }, [
    'repeat',
    'colour',
  ]);
  const { colour } = maps;
  return brokenPieces(
    pieces,
    segmented(labPlanes(colour), look, true),
    whereCopiesMeet(placed.map, colour.widthPx, colour.heightPx),
  );
}

/**
 * Counts the pieces of a finished repeat, bricks, tiles, stones, and finds those that are broken: for a surface laid of pieces,
 * that is what closing means.
 * @returns null where the sample has no pieces that can be told apart by joints
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function piecesOfFinish(
  recipe: Recipe,
  pictures: Pictures,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'>,
): Promise<PiecesJudged | null> {
  const known = await piecesOfSample(recipe, pictures);
  return known && judgedInRepeat(recipe, pictures, known, options);
}

/** That pieces are broken, as a check; nothing where none is. */
export function checkPieces(judged: PiecesJudged | null): Check[] {
  if (!judged || judged.broken.length === 0) return [];
  const { broken, pieces } = judged;
  const of = (kind: 'cut' | 'fused') => broken.filter((b) => b.kind === kind).length;
  const kinds = (['cut', 'fused'] as const).flatMap((kind) => (of(kind) ? [`${of(kind)} ${kind}`] : []));
  return [
    open(
      'repeat',
      'pieces-broken',
      `${printNumber(broken.length, 0)} of ${printNumber(pieces, 0)} pieces are broken where copies of the sample meet: ${kinds.join(', ')}. Keep to the structure, or let a method be suggested.`,
    ),
  ];
}
