import {
  boardsLaid,
  edgeShows,
  likenessTo,
  linesAcrossCourses,
  seamFigures,
  structureToKeep,
  wholeBonds,
  type Advice,
  type Courses,
  type PlacementMap,
  type RepeatLikeness,
  type RepeatSettings,
} from '../repeat';
import type { ColourPicture } from '../raster';
import type { FoundStructure } from '../size';
import type { PictureShape } from '../straighten';
import { isRefusal, checkpoint, type Pictures } from '../surface';
import { printNumber } from '../units';
import { judgedInRepeat, repeatToJudge, type SamplePieces } from './pieces';
import { relaidUntilWhole, type JudgedRepeat } from './relaid-pieces';
import { repeatGeometry, unlaid } from './geometry';
import { lead, type Recipe } from './recipe';
import { renderMaps, type RenderOptions } from './render';

/** Settings by which a repeat is made; arrangements only where broken pieces were re-laid. */
export type MethodSettings = Advice['settings'] & Partial<Pick<RepeatSettings, 'arrangements'>>;

/** A method that was solved at small size, and what is wrong with the repeat it made. */
export interface TriedMethod extends RepeatLikeness {
  name: string;
  settings: MethodSettings;
  /** Pieces of the repeat; 0: the sample shows none that joints part. */
  pieces: number;
  broken: number;
  /** Joints that end in the broken pieces. */
  jointEnds: number;
  /** An edge of the repeat shows as a seam. */
  seamShows: boolean;
  /** How many pieces were broken before they were re-laid; undefined: none were. */
  brokenBefore?: number;
}

/** A method as it was tried, with the repeat it made, linear light, some hundred pixels. */
export interface SolvedMethod extends TriedMethod {
  repeat: ColourPicture;
}

/** So many are tried, so that there is another to compare with; more only while something is wrong with all. */
const LEAST_TRIED = 2;
/** The longer side of the sample, px, when a repeat is compared with it; less where a repeat were longer than the second. */
const SAMPLE_PX = 384;
const REPEAT_PX = 1024;
/** Where copies mix, features fade by so much without being missed. */
const FADED = 0.06;
/** Shares of the repeat that differ by less are the same to the eye. */
const SAME_SHARE = 0.005;
/** A seam that shows is as bad as so many times that share. */
const SEAM_STEPS = 2;

/** Share of the repeat that does not look like the sample: places that it has none like, and features that fade where copies mix. */
export const dissimilarShare = ({ unlikeShare, mixedShare, mixedContrast }: TriedMethod) =>
  unlikeShare + mixedShare * Math.max(0, 1 - FADED - mixedContrast);
/** Shares of broken pieces that differ by less are alike: of a dozen pieces one is a tenth. None is better than any. */
const SAME_BROKEN = 0.03;
/** A joint that is missing inside a piece leaves two ends. */
const ENDS_OF_JOINT = 2;
const brokenSteps = ({ broken, jointEnds, pieces }: TriedMethod) =>
  broken === 0
    ? 0
    : Math.max(1, Math.round(Math.max(broken, jointEnds / ENDS_OF_JOINT) / pieces / SAME_BROKEN));
/** As steps, so that of methods that differ by less the one tried first is kept. */
const wrongSteps = (tried: TriedMethod) =>
  Math.round(dissimilarShare(tried) / SAME_SHARE) + (tried.seamShows ? SEAM_STEPS : 0);
const isRight = (tried: TriedMethod) => tried.broken === 0 && wrongSteps(tried) === 0;

/**
 * Solves methods of making a repeat at small size, and judges each by the pieces it breaks and by what in it looks like no place of
 * the sample.
 * @param methods the likeliest first; those after the second are only tried while something is wrong with all
 * @param known pieces of the sample; null: it shows none
 * @returns the best first; those whose repeat cannot be, as where a whole bond is longer than the sample, are left out
 * @throws Refusal when something has to be changed first; Stopped when the signal asks
 */
export async function tryMethods(
  recipe: Recipe,
  pictures: Pictures,
  methods: readonly Candidate[],
  known: SamplePieces | null,
  options: Pick<RenderOptions, 'cache' | 'signal' | 'pause'>,
): Promise<SolvedMethod[]> {
  const repeated = (settings: Advice['settings']): Recipe => ({
    ...unlaid(recipe),
    repeat: { ...recipe.repeat, ...settings },
  });
  const asItIs = repeated(laidEdgeToEdge(methods[0]!.settings));
  const { sampleId } = lead(recipe);
  const info = await pictures.info(sampleId);
  const possible = methods.filter(({ settings }) => isPossible(repeated(settings), info));
  if (possible.length === 0) return [];
  const longestMm = (of: Recipe) => Math.max(...Object.values(repeatGeometry(of, info).repeatMm));
  const pxPerMm = Math.min(
    SAMPLE_PX / longestMm(asItIs),
    REPEAT_PX / Math.max(...possible.map(({ settings }) => longestMm(repeated(settings)))),
  );
  const drawn = (of: Recipe) => {
    const widthPx = Math.max(8, Math.round(repeatGeometry(of, info).repeatMm.width * pxPerMm));
    return renderMaps(of, pictures, { ...options, widthPx, maps: ['colour'] });
  };
  const sampleMm = repeatGeometry(asItIs, info).repeatMm;
  const likeToSample = likenessTo((await drawn(asItIs)).maps.colour);
  let pieces = known;
  const tried: SolvedMethod[] = [];
  const drawnAs: DrawnAs = new Map();
  const judge = (as: Recipe) =>
    judgedInRepeat(as, pictures, pieces!, (px) => repeatToJudge(as, pictures, px, options));
  for (const { settings, needsPieces } of possible) {
    if (needsPieces && !pieces) continue;
    await checkpoint(options);
    const as = repeated(settings);
    const small = await drawn(as);
    const like = likeToSample(small.maps.colour, small.placed.map);
    const inPieces = pieces && (await judge(as));
    if (inPieces && !inPieces.judged) {
      if (needsPieces || tried.length > 0) continue;
      // They are not seen clearly enough in this finish.
      pieces = null;
    }
    const seam = seamFigures(small.maps.colour);
    drawnAs.set(settings, small.placed);
    tried.push({
      name: nameOf(settings, sampleMm),
      settings,
      pieces: inPieces?.judged?.pieces ?? 0,
      broken: inPieces?.judged?.broken.length ?? 0,
      jointEnds: inPieces?.judged?.jointEnds ?? 0,
      seamShows:
        edgeShows(seam.acrossWidth, seam.inside.acrossWidth) ||
        edgeShows(seam.acrossHeight, seam.inside.acrossHeight),
      ...like,
      repeat: inPieces?.colour ?? small.maps.colour,
    });
    if (tried.length >= LEAST_TRIED && tried.some(isRight)) break;
  }
  const judged = inOrder(judgedByBoards(tried, drawnAs));
  return pieces ? withRelaidPieces(judged, repeated, judge) : judged;
}

/** Where every method breaks pieces, those of the composed repeat are re-laid. */
async function withRelaidPieces(
  tried: SolvedMethod[],
  repeated: (settings: Advice['settings']) => Recipe,
  judge: (as: Recipe) => Promise<JudgedRepeat>,
): Promise<SolvedMethod[]> {
  const composed = tried.find(({ settings }) => settings.method === 'composed');
  if (!composed || tried.some(({ broken }) => broken === 0)) return tried;
  const as = repeated(composed.settings);
  const better = await relaidUntilWhole(as.repeat, await judge(as), (repeat) => judge({ ...as, repeat }));
  return better ? inOrder(tried.map((one) => (one === composed ? asRelaid(one, better) : one))) : tried;
}

/** The best first. */
const inOrder = (tried: SolvedMethod[]): SolvedMethod[] =>
  tried.sort((a, b) => brokenSteps(a) - brokenSteps(b) || wrongSteps(a) - wrongSteps(b));

/** A method whose broken pieces were re-laid. */
const asRelaid = (
  method: SolvedMethod,
  { repeat: { arrangements }, now: { colour, judged } }: { repeat: RepeatSettings; now: JudgedRepeat },
): SolvedMethod => ({
  ...method,
  settings: { ...method.settings, arrangements },
  pieces: judged!.pieces,
  broken: judged!.broken.length,
  jointEnds: judged!.jointEnds,
  brokenBefore: method.broken,
  repeat: colour,
});

/** Where copies lie in the repeats that were drawn, and how many courses these hold. */
type DrawnAs = Map<Advice['settings'], { map: PlacementMap; courses: Courses }>;

/**
 * Where one method lays whole boards, the others are judged by how many boards the lines cross along which their copies meet. Where its
 * pieces were judged as well, they tell more: courses of ashlar look like boards, but stones higher than a course are cut by them.
 */
function judgedByBoards(tried: readonly SolvedMethod[], drawnAs: DrawnAs): SolvedMethod[] {
  const placed = ({ settings }: SolvedMethod) => drawnAs.get(settings)!;
  const whole = tried.find((method) => boardsLaid(placed(method).map) !== null);
  if (!whole || whole.pieces > 0) return [...tried];
  const along = whole.settings.structure.up ? 'across' : 'up';
  const acrossMm = ({ repeatMm }: PlacementMap) => (along === 'across' ? repeatMm.height : repeatMm.width);
  const { map, courses } = placed(whole);
  const pieces = boardsLaid(map)!;
  const pitchMm = acrossMm(map) / courses[along === 'across' ? 'up' : 'across']!;
  return tried.map((method) => {
    if (method === whole) return { ...method, pieces, broken: 0 };
    const { repeat } = method;
    const other = placed(method).map;
    const lines = linesAcrossCourses(other, along, repeat.widthPx, repeat.heightPx);
    return { ...method, pieces, broken: Math.min(pieces, Math.round((lines * acrossMm(other)) / pitchMm)) };
  });
}

function isPossible(recipe: Recipe, info: PictureShape): boolean {
  try {
    repeatGeometry(recipe, info);
    return true;
  } catch (error) {
    if (!isRefusal(error)) throw error;
    return false;
  }
}

const isOfOneAxis = ({ across, up }: { across: unknown; up: unknown }) => Boolean(across) !== Boolean(up);

/** A method worth trying. */
export interface Candidate {
  settings: Advice['settings'];
  /** It is only told by pieces whether it is any good. */
  needsPieces: boolean;
}

const NO_STRUCTURE_KEPT: RepeatSettings['structure'] = { across: null, up: null, stagger: 0 };

const laidEdgeToEdge = (like: Advice['settings']): Advice['settings'] => ({
  ...like,
  method: 'edges',
  across: { ...like.across, closing: 'abut' },
  up: { ...like.up, closing: 'abut' },
  structure: NO_STRUCTURE_KEPT,
});

/** Overlap of a sample that nearly closes, as a share of its side: less than a joint. */
const NARROW = 0.003;
/** The sample laid edge to edge, but that its edges are cut where they show least within a narrow overlap. */
const cutAtItsBorder = (like: Advice['settings'], { width, height }: SizeMm): Advice['settings'] => ({
  ...laidEdgeToEdge(like),
  across: { closing: 'cut', overlapMm: Math.round(NARROW * width * 10) / 10 },
  up: { closing: 'cut', overlapMm: Math.round(NARROW * height * 10) / 10 },
});

const isNarrow = ({ closing, overlapMm }: Advice['settings']['across'], sideMm: number) =>
  closing === 'cut' && overlapMm < 2 * NARROW * sideMm;

interface SizeMm {
  width: number;
  height: number;
}

/** A sample of whole periods, as catalogues have them, is off by less of one. */
const WHOLE = 0.03;
const isWhole = (axis: { period: number } | null) =>
  axis !== null && Math.abs(1 / axis.period - Math.round(1 / axis.period)) < WHOLE;

/**
 * Methods worth trying: edge to edge where the sample shows pieces, as it may have been cut so that it closes with all of them, or
 * whole periods both ways; the method advised; then others that may turn out better.
 * @param sample its size, and whether it shows pieces, by which edge to edge is judged
 */
export function candidates(
  advised: Advice['settings'],
  found: FoundStructure,
  { inPieces, sizeMm }: { inPieces: boolean; sizeMm: SizeMm },
): Candidate[] {
  const kept = structureToKeep(found);
  const bonds = wholeBonds(kept);
  const isWholeBond = isWhole(bonds.across) && isWhole(bonds.up);
  // Laid as it is, what does not hold whole periods of its structure breaks pieces all along an edge.
  const closesAsItIs = [bonds.across, bonds.up].every((axis) => axis === null || isWhole(axis));
  const closed = (closing: 'cut' | 'blend', structure: RepeatSettings['structure']): Advice['settings'] => ({
    ...advised,
    method: 'edges',
    across: { ...advised.across, closing },
    up: { ...advised.up, closing },
    structure,
  });
  const unconditional = (settings: Advice['settings']): Candidate => ({ settings, needsPieces: false });
  const all: Candidate[] = [
    ...(isWholeBond || (inPieces && closesAsItIs)
      ? [{ settings: laidEdgeToEdge(advised), needsPieces: !isWholeBond }]
      : []),
    unconditional(advised),
    ...(inPieces && closesAsItIs ? [{ settings: cutAtItsBorder(advised, sizeMm), needsPieces: true }] : []),
    unconditional(closed('cut', bonds)),
    unconditional({ ...advised, method: 'composed', structure: kept }),
    // Lines along one axis may be what stones of a few heights have in common.
    ...(isOfOneAxis(found)
      ? [unconditional({ ...advised, method: 'composed', structure: NO_STRUCTURE_KEPT })]
      : []),
    ...(found.across || found.up ? [] : [unconditional(closed('blend', kept))]),
  ];
  const key = ({ method, across, up, structure }: Advice['settings']) =>
    JSON.stringify(
      method === 'composed'
        ? [method, structure]
        : [method, across.closing, up.closing, isNarrow(across, sizeMm.width), structure],
    );
  return all.filter(
    ({ settings }, k) => all.findIndex((other) => key(other.settings) === key(settings)) === k,
  );
}

const NAMES = { cut: 'cut at its edges', blend: 'blended', abut: 'laid edge to edge', mirror: 'mirrored' };
function nameOf({ method, across, structure }: Advice['settings'], { width }: SizeMm): string {
  if (method === 'composed') return isOfOneAxis(structure) ? 'composed in courses' : 'composed anew';
  return isNarrow(across, width) ? 'cut close to its edges' : NAMES[across.closing];
}

/** What was found of the methods that were tried, as sentences. */
export function triedWords(tried: readonly TriedMethod[]): string[] {
  if (tried.length === 0) return [];
  const said = (of: (one: TriedMethod) => string) => tried.map((one) => `${one.name} ${of(one)}`).join('; ');
  const percent = (share: number) => `${printNumber(100 * share, share < 0.095 ? 1 : 0)} %`;
  const pieces = ({ broken, pieces: n, brokenBefore }: TriedMethod) =>
    `${broken === 0 ? 'none' : printNumber(broken, 0)} of ${printNumber(n, 0)}${brokenBefore === undefined ? '' : `, once ${printNumber(brokenBefore, 0)} were re-laid`}`;
  return tried.some((one) => one.pieces > 0)
    ? [`Tried at small size, pieces broken: ${said(pieces)}.`]
    : [
        `Tried at small size, area that does not look like the sample: ${said((one) => percent(dissimilarShare(one)))}.`,
      ];
}
