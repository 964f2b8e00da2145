import {
  fillCells,
  JOINT_WIDTHS,
  jointWidthsPx,
  labPlanes,
  mortarOf,
  piecesOfLatticeSteps,
  segmented,
  segmentingSteps,
  type JointLook,
  type Pieces,
} from '../pieces';
import {
  brokenInLattice,
  brokenPieces,
  coursesOfBond,
  leadOf,
  whereCopiesMeet,
  type BrokenPiece,
  type PiecesJudged,
} from '../repeat';
import type { ColourPicture, Plane } from '../raster';
import { nameOfLook } from '../relief';
import type { FoundStructure } from '../size';
import {
  lookStraight,
  sampleGeometry,
  structureOfSample,
  type SampleToLookAt,
  type WhileLooking,
} from '../sources';
import { atOnce } from '../steps';
import { hashOf, open, withTurns, type Check, type Pictures } from '../surface';
import { printNumber } from '../units';
import type { FoundJoints } from './default-recipe';
import { repeatGeometry, unlaid } from './geometry';
import { lead, type Recipe } from './recipe';
import { renderMaps, type RenderOptions } from './render';

/** The larger of sample and repeat is so many pixels long when their pieces are segmented. */
const JUDGED_PX = 512;

/** Pieces of the sample a repeat is made from, and what its joints look like. */
export interface SamplePieces {
  /** Mean L* of the joints less that of the pieces. */
  jointsLighter: number;
  pieces: Pieces;
  /** L*, a*, b* of the sample. */
  lab: readonly Plane[];
  mortar: Uint8Array;
  pxPerMm: number;
  /** What tells joints from pieces: a look that they have, or the lattice in which the pieces lie. */
  by: ByLook | ByLattice;
}

interface ByLook {
  look: JointLook;
  joints: FoundJoints;
}
/** Periods in mm, and what the joints look like in their mean cell. */
interface ByLattice {
  lattice: { across: number; up: number; stagger: number; courses: number };
  look: JointLook;
}

export const piecesByJoints = (lab: ReturnType<typeof labPlanes>, shortPx: number) =>
  atOnce(piecesByJointsSteps(lab, shortPx));

function* piecesByJointsSteps(lab: ReturnType<typeof labPlanes>, shortPx: number) {
  const known = yield* segmentingSteps(lab, jointWidthsPx(shortPx));
  if (!known) return null;
  const widestShare = JOINT_WIDTHS.find((share) => share * shortPx === known.look.widthPx)!;
  const { widthPx, smoothedPx } = known.look;
  const smoothed = smoothedPx ? { smoothShare: smoothedPx / widthPx } : {};
  return { ...known, joints: { look: nameOfLook(known.look), widestShare, ...smoothed } };
}

/** Longest side at which joints are looked for in a new sample, px. */
export const JOINTS_SEEN_PX = 320;

/** What the joints of a sample look like. @returns null: it has none that part pieces @param picture its frame, linear light */
export function findJoints(picture: ColourPicture): FoundJoints | null {
  return piecesByJoints(labPlanes(picture), Math.min(picture.widthPx, picture.heightPx))?.joints ?? null;
}

/**
 * Segments the pieces of a finish's leading sample, at a scale at which its repeat can be judged by them.
 * @param options its cache keeps them: segmenting takes seconds, and most changes of a repeat leave them as they are
 * @returns null where it has none that joints part
 * @throws Refusal when its frame cannot be; Stopped when the signal asks
 */
export async function piecesOfSample(
  recipe: Pick<Recipe, 'sources' | 'repeat'>,
  pictures: Pictures,
  options: WhileLooking = {},
): Promise<SamplePieces | null> {
  const first = lead(recipe);
  const sample: SampleToLookAt = { id: first.sampleId, ...(await pictures.info(first.sampleId)) };
  const { used, usedMm } = sampleGeometry(first, leadOf(recipe.repeat).area, sample);
  const { repeatMm } = repeatGeometry(recipe, sample);
  const longestMm = Math.max(usedMm.width, usedMm.height, repeatMm.width, repeatMm.height);
  const sidePx = Math.round((JUDGED_PX * Math.max(usedMm.width, usedMm.height)) / longestMm);
  const key = hashOf('pieces of sample', sample.sha256, used.plane, used.bow, sidePx);
  const find = async () => {
    const { picture } = await lookStraight(pictures, sample, used, [], sidePx);
    const byLook = await withTurns(options, segmentedSample(picture));
    const structure = await structureOfSample(pictures, sample, first.preparation, options);
    const lattice = leadOf(recipe.repeat).area ? null : latticeOf(structure, usedMm);
    if (!lattice) return { found: byLook };
    const cells = (usedMm.width * usedMm.height) / (lattice.across * lattice.up);
    if (byLook && fillCells(byLook.pieces.pieces.length, cells)) return { found: byLook };
    return { found: await withTurns(options, segmentedByLattice(picture, lattice, usedMm)) };
  };
  const { found } = await (options.cache ? options.cache.known(key, find) : find());
  // A sample that is smaller is not enlarged, and its repeat is judged at the same scale.
  return found && { ...found, pxPerMm: found.widthPx / usedMm.width };
}

function* segmentedSample(picture: ColourPicture) {
  const { widthPx, heightPx } = picture;
  const lab = labPlanes(picture);
  const known = yield* piecesByJointsSteps(lab, Math.min(widthPx, heightPx));
  if (!known) return null;
  const { look, joints, pieces } = known;
  const mortar = mortarOf(lab, look, pieces, false);
  return {
    by: { look, joints },
    pieces,
    lab,
    mortar,
    widthPx,
    jointsLighter: jointsLighter(lab[0], pieces),
  };
}

function latticeOf(
  { across, up, stagger }: FoundStructure,
  usedMm: { width: number; height: number },
): ByLattice['lattice'] | null {
  if (!across || !up) return null;
  const shift = stagger ?? 0;
  const courses = coursesOfBond(shift);
  if (courses === 1 && shift !== 0) return null;
  return { across: across.period * usedMm.width, up: up.period * usedMm.height, stagger: shift, courses };
}

function* segmentedByLattice(
  picture: ColourPicture,
  lattice: ByLattice['lattice'],
  usedMm: { width: number; height: number },
) {
  const lab = labPlanes(picture);
  const { widthPx, heightPx } = picture;
  const perMm = { x: widthPx / usedMm.width, y: heightPx / usedMm.height };
  const inPx = {
    ...lattice,
    acrossPx: lattice.across * perMm.x,
    upPx: lattice.up * perMm.y,
  };
  const found = yield* piecesOfLatticeSteps(lab, inPx, false);
  if (!found) return null;
  const { pieces, mortar, look } = found;
  const lighter = jointsLighter(lab[0], pieces);
  return { by: { lattice, look }, pieces, mortar, lab, widthPx, jointsLighter: lighter };
}

/** Pieces of a repeat that keeps to a lattice; null: it does not hold whole bonds of it. */
function repeatByLattice(
  lab: readonly Plane[],
  { lattice: { across, up, stagger, courses }, look }: ByLattice,
  repeatMm: { width: number; height: number },
) {
  const { widthPx, heightPx } = lab[0]!;
  const [n, rows] = [repeatMm.width / across, repeatMm.height / up].map(Math.round) as [number, number];
  if (n < 1 || rows < 1 || rows % courses !== 0) return null;
  const inPx = { acrossPx: widthPx / n, upPx: heightPx / rows, stagger, courses };
  return atOnce(piecesOfLatticeSteps(lab, inPx, true, look));
}

function byLook(lab: readonly Plane[], look: JointLook) {
  const pieces = segmented(lab, look, true);
  return { pieces, mortar: mortarOf(lab, look, pieces, true) };
}

/** By how much joints are lighter than pieces, L*. */
function jointsLighter({ data }: Plane, { label }: Pieces): number {
  const [sums, counts] = [
    [0, 0],
    [0, 0],
  ];
  for (let i = 0; i < data.length; i++) {
    const k = label[i]! < 0 ? 0 : 1;
    sums[k]! += data[i]!;
    counts[k]!++;
  }
  return sums[0]! / Math.max(1, counts[0]!) - sums[1]! / Math.max(1, counts[1]!);
}

/** A repeat as it is drawn to be judged: its colour, and 1 for each of its pixels where copies of the sample meet. */
export interface RepeatToJudge {
  colour: ColourPicture;
  meet: Uint8Array;
}

/**
 * Draws the repeat of a finish, for its pieces to be judged.
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function repeatToJudge(
  recipe: Recipe,
  pictures: Pictures,
  widthPx: number,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'>,
): Promise<RepeatToJudge> {
  const { maps, placed } = await renderMaps(
    unlaid(recipe),
    pictures,
    { ...options, widthPx, maps: ['colour'] },
    ['repeat', 'colour'],
  );
  const { colour } = maps;
  return { colour, meet: whereCopiesMeet(placed.map, colour.widthPx, colour.heightPx) };
}

/**
 * Counts the pieces of a finished repeat and finds those that are cut, fused or of mixed tones where copies of the sample meet.
 * @param draw draws the repeat at a width in pixels
 * @returns the repeat as it was drawn for this, and what was found; null: its pieces are not segmented clearly
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function judgedInRepeat(
  recipe: Recipe,
  pictures: Pictures,
  known: SamplePieces,
  draw: (widthPx: number) => Promise<RepeatToJudge>,
): Promise<{ judged: PiecesJudged | null; colour: ColourPicture }> {
  const { repeatMm } = repeatGeometry(recipe, await pictures.info(lead(recipe).sampleId));
  const { colour, meet } = await draw(Math.max(8, Math.round(repeatMm.width * known.pxPerMm)));
  const lab = labPlanes(colour);
  const { by } = known;
  if (!('lattice' in by))
    return { judged: brokenPieces(known, { ...byLook(lab, by.look), lab }, meet), colour };
  const found = repeatByLattice(lab, by, repeatMm);
  return { judged: found && brokenInLattice(known, { ...found, lab }, meet), colour };
}

/**
 * Counts the pieces of a finished repeat, bricks, tiles, stones, and finds those that are broken: for a surface laid of pieces,
 * that is what closing means.
 * @param draw draws the repeat at a width in pixels, where somebody else has what it takes
 * @returns null where the sample has no pieces between joints
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function piecesOfFinish(
  recipe: Recipe,
  pictures: Pictures,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'>,
  draw = (widthPx: number) => repeatToJudge(recipe, pictures, widthPx, options),
): Promise<FinishPieces | null> {
  const known = await piecesOfSample(recipe, pictures, options);
  if (!known) return null;
  const { judged } = await judgedInRepeat(recipe, pictures, known, draw);
  const joints = 'lattice' in known.by ? null : known.by.joints;
  return judged && { ...judged, jointsLighter: known.jointsLighter, joints };
}

/** What the pieces of a finish say of it. */
export interface FinishPieces extends PiecesJudged {
  /** What the joints look like in the sample; null: they are told by the lattice of the pieces alone. */
  joints: FoundJoints | null;
  /** Mean L* of the joints less that of the pieces. */
  jointsLighter: number;
}

/** Joints that differ by less from the pieces get hardly any relief from it, L*. */
const LEAST_LIGHTER = 3;

/** What does not hold of the pieces of a finish: some are broken, or the relief raises joints above the faces. */
export const checkPieces = (judged: FinishPieces, { relief }: Pick<Recipe, 'relief'>): Check[] => [
  ...brokenWords(judged),
  ...proudJoints(judged, relief),
];

function proudJoints({ jointsLighter: lighter, joints }: FinishPieces, relief: Recipe['relief']): Check[] {
  if (!joints) return [];
  const recessed = relief.contributions.some((c) => c.kind === 'joints' && c.depthMm.value > 0);
  const proud = relief.contributions.some(
    (c) => c.kind === 'picture' && c.depthMm.value > 0 && c.invert === lighter < 0,
  );
  if (recessed || !proud || Math.abs(lighter) < LEAST_LIGHTER) return [];
  const by = `${printNumber(Math.abs(lighter), 0)} L* ${lighter > 0 ? 'lighter' : 'darker'}`;
  return [
    open(
      'relief',
      'joints-proud',
      `Joints are ${by} than the pieces, and the relief raises them above the faces. Add "Joints" to the relief, so that they are recessed.`,
    ),
  ];
}

const KINDS_OF_BROKEN = {
  cut: 'cut',
  fused: 'fused',
  mixed: 'of mixed tones',
} satisfies Record<BrokenPiece['kind'], string>;

/** How many pieces are broken in which way, in words: "2 cut, 1 fused". */
export const brokenByKind = (broken: PiecesJudged['broken']): string =>
  Object.entries(KINDS_OF_BROKEN)
    .flatMap(([kind, words]) => {
      const count = broken.filter((b) => b.kind === kind).length;
      return count > 0 ? [`${count} ${words}`] : [];
    })
    .join(', ');

function brokenWords({ broken, pieces }: PiecesJudged): Check[] {
  if (broken.length === 0) return [];
  return [
    open(
      'repeat',
      'pieces-broken',
      `${printNumber(broken.length, 0)} of ${printNumber(pieces, 0)} pieces are broken where copies of the sample meet: ${brokenByKind(broken)}. Re-lay them, keep to the structure, or let a method be suggested; none is broken where the pieces of the sample are laid under Layout.`,
    ),
  ];
}
