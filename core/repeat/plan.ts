import type { SampleGeometry } from '../sources';
import { Refusal, refusing } from '../surface';
import { closeAxis, composedAxis, placeClosed, type ClosedAxis } from './close';
import type { Joints, Pitch } from './compose';
import type { PlacementMap } from './placement';
import { coursesOfBond, type RepeatSettings } from './settings';
import { cutsInLines, mostCoursesOf, REPEAT } from './version';
import type { Courses } from './show';

/** The geometry of a repeat: how it closes and how large it is, before any pixel is looked at. */

type Axis = 'across' | 'up';
type PerAxis<T> = Record<Axis, T>;
interface SizeMm {
  width: number;
  height: number;
}

/** What every repeat has, however it is made. */
interface AnyPlan extends PerAxis<ClosedAxis> {
  repeatMm: SizeMm;
  /** Size of the leading picture as it is laid: its own, times the scale of its elements and what it is stretched by. */
  laidMm: SizeMm;
  /** Period of the structure that copies stay in step with. */
  pitchMm: Pitch;
  /** Period of the modules whose number or pitch is given with the size; null: none is. */
  moduleMm: PerAxis<number | null>;
  /** How many periods and courses of it lie in the repeat. */
  courses: Courses;
}

/** The picture laid as it is, its edges blended, mirrored or abutting. */
export interface LayeredPlan extends AnyPlan {
  kind: 'layered';
  map: PlacementMap;
  /** Where each picture lies, y up; undefined: there is one, and it closes. */
  areas?: readonly FacePlace[];
  /** Size of the pictures that areas are stretches of, as they are laid, mm. */
  pictures?: readonly SizeMm[];
  /** The axis that is closed by a cut before the other one is blended or mirrored. */
  cutFirst: PerAxis<boolean>;
}

/** The picture cut where it shows least. */
export interface CutPlan extends AnyPlan {
  kind: 'cut';
  /** Which edges are to meet. */
  closed: PerAxis<boolean>;
  /** Where the joints of the structure lie, in shares of the repeat; null where that is not known. */
  joints: Joints;
}

/** Place of a picture that pieces are cut from, mm, y up. */
export interface FacePlace {
  left: number;
  bottom: number;
  width: number;
  height: number;
  /** Where it is a stretch of a picture only: which, and where in it, mm from its lower left corner. */
  of?: { picture: number; x: number; y: number };
}

/** Composed anew of copies. */
export interface ComposedPlan extends AnyPlan {
  kind: 'composed';
  closed: PerAxis<boolean>;
  /** Where the joints of the structure lie, in shares of the repeat; null where that is not known. */
  joints: Joints;
}

export type RepeatPlan = LayeredPlan | CutPlan | ComposedPlan;

/** A period found is the known module when they differ by less. */
const SAME_PERIOD = 0.02;

/**
 * How a repeat closes and how large it is.
 * @param lead frame, size and used part of the picture that leads the repeat
 * @param version of the repeat stage: earlier ones planned otherwise
 * @throws Refusal where lengths cannot be
 */
export function planRepeat(
  repeat: RepeatSettings,
  lead: SampleGeometry,
  version: number = REPEAT.version,
): RepeatPlan {
  return refusing('repeat', 'repeat', () =>
    repeat.method === 'composed' ? planComposed(repeat, lead, version) : planAtEdges(repeat, lead, version),
  );
}

/**
 * Pictures one above another, for pieces to be cut from.
 * @param parts the areas, the leading one first
 * @param stretches what each of them is a stretch of; null: they are whole pictures
 * @param apart they lie a little apart, so that what is read at the edge of one takes nothing from the next
 */
export function planFaces(
  repeat: RepeatSettings,
  parts: readonly SampleGeometry[],
  stretches: FaceStretches | null,
  apart = true,
): LayeredPlan {
  const [lead] = parts as [SampleGeometry];
  const abut = { closing: 'abut', overlapMm: 0 } as const;
  const plan = refusing('repeat', 'repeat', () =>
    planAtEdges({ ...repeat, across: abut, up: abut, structure: NO_PERIODS }, lead, REPEAT.version),
  ) as LayeredPlan;
  const scale = plan.laidMm.width / lead.usedMm.width;
  const sizes = parts.map(({ usedMm }) => ({ width: scale * usedMm.width, height: scale * usedMm.height }));
  const gap = apart ? APART * Math.min(...sizes.map((s) => s.height)) : 0;
  const repeatMm = {
    width: Math.max(...sizes.map((s) => s.width)),
    height: sizes.reduce((sum, s) => sum + s.height + gap, 0),
  };
  let top = gap / 2;
  const places = sizes.map((size) => {
    const place = { ...size, top };
    top += size.height + gap;
    return place;
  });
  return {
    ...plan,
    repeatMm,
    map: {
      repeatMm,
      layers: places.map((place, sourceIndex) => layerAt(place, sourceIndex, repeatMm, gap / 2)),
    },
    areas: places.map((p, k) => ({
      left: 0,
      bottom: repeatMm.height - p.top - p.height,
      width: p.width,
      height: p.height,
      ...(stretches ? stretchAt(stretches.of[k]!, stretches.picturesMm, scale) : {}),
    })),
    ...(stretches ? { pictures: stretches.picturesMm.map((mm) => scaledMm(mm, scale)) } : {}),
  };
}

/** Stretches of pictures: of which, from where to where along the longer side; and the size of all pictures, mm. */
export interface FaceStretches {
  of: readonly { picture: number; stretch?: readonly [from: number, to: number] }[];
  picturesMm: readonly SizeMm[];
}

const scaledMm = ({ width, height }: SizeMm, by: number): SizeMm => ({
  width: by * width,
  height: by * height,
});

/** Where a stretch lies in its picture; nothing where it is all of it. */
function stretchAt(
  { picture, stretch }: FaceStretches['of'][number],
  picturesMm: readonly SizeMm[],
  scale: number,
): Pick<FacePlace, 'of'> {
  const { width, height } = scaledMm(picturesMm[picture]!, scale);
  const [from, to] = stretch ?? [0, 1];
  // Stretches of standing pictures count from the top.
  const at = width >= height ? { x: from * width, y: 0 } : { x: 0, y: (1 - to) * height };
  return { of: { picture, ...at } };
}

/** Distance between two areas, as a share of the lowest. */
const APART = 0.1;

const NO_PERIODS = { across: null, up: null, stagger: 0 };

/** A picture between two heights from the top; beyond them its edge goes on for a margin. */
function layerAt(
  { top, height }: { top: number; height: number },
  sourceIndex: number,
  repeatMm: SizeMm,
  marginMm: number,
): PlacementMap['layers'][number] {
  const [from, to] = [top - marginMm, top + height + marginMm];
  return {
    placement: { sourceIndex, signX: 1, signY: 1, offsetXMm: 0, offsetYMm: -top },
    across: { atMm: [0, repeatMm.width], weight: [1, 1] },
    up: {
      atMm: [0, from, from, to, to, repeatMm.height],
      weight: [0, 0, 1, 1, 0, 0],
    },
  };
}

/** @throws Refusal when the repeat is made from nothing */
export function leadOf({ from }: Pick<RepeatSettings, 'from'>): RepeatSettings['from'][number] {
  const [lead] = from;
  if (lead) return lead;
  throw new Refusal('no-picture', 'This finish has no sample yet. Add a picture to it first.', 'repeat.from');
}

const lengthsOf = ({ usedMm, size }: SampleGeometry, scale: number) => ({
  used: { across: scale * usedMm.width, up: scale * usedMm.height },
  known: { across: size.width, up: size.height },
});

/** Periods of the modules that are given with the size, as they are laid. */
function modulesOf(repeat: RepeatSettings, lead: SampleGeometry): PerAxis<number | null> {
  const { scale } = repeat.elements;
  const { known } = lengthsOf(lead, scale);
  const of = (axis: Axis) => (known[axis].module ? scale * known[axis].module.pitchMm : null);
  return { across: of('across'), up: of('up') };
}

/** Period of the structure on an axis as it is laid; null: none is known. */
function periodMm(repeat: RepeatSettings, lead: SampleGeometry, axis: Axis): number | null {
  const { scale } = repeat.elements;
  const { known } = lengthsOf(lead, scale);
  const found = repeat.structure[axis];
  const module = modulesOf(repeat, lead)[axis];
  if (!found) return module;
  const mm = scale * found.period * known[axis].mm;
  // What was found in pixels is as good as a pixel; where it is the counted module, that is the true length.
  return module && Math.abs(mm / module - 1) < SAME_PERIOD ? module : mm;
}

function planComposed(repeat: RepeatSettings, lead: SampleGeometry, version: number): ComposedPlan {
  const { widthMm, heightMm, closed: edges, stretchMost } = repeat.composed;
  const closed = { across: edges !== 'up', up: edges !== 'across' };
  const { stagger } = repeat.structure;
  const { used } = lengthsOf(lead, repeat.elements.scale);
  const plain = { across: periodMm(repeat, lead, 'across'), up: periodMm(repeat, lead, 'up') };
  // A bond repeats after as many courses as bring it back.
  const bondMm = plain.up && plain.up * coursesOfBond(plain.across ? stagger : 0, mostCoursesOf(version));
  const across = composedAxis('wide', widthMm, used.across, plain.across, closed.across, stretchMost);
  const up = composedAxis('high', heightMm, used.up, bondMm, closed.up, stretchMost);
  const stretched = { across: 1 + (across.stretch ?? 0), up: 1 + (up.stretch ?? 0) };
  const pitchMm = {
    across: plain.across && plain.across * stretched.across,
    up: plain.up && plain.up * stretched.up,
    stagger,
  };
  const repeatMm = { width: across.repeatMm, height: up.repeatMm };
  const joints = {
    across: jointsOn(repeat, lead, 'across', pitchMm, stretched.across, repeatMm.width),
    up: jointsOn(repeat, lead, 'up', pitchMm, stretched.up, repeatMm.height),
  };
  const laidMm = { width: used.across * stretched.across, height: used.up * stretched.up };
  const courses = coursesIn(repeatMm, pitchMm);
  const moduleMm = modulesOf(repeat, lead);
  return { kind: 'composed', across, up, repeatMm, laidMm, pitchMm, moduleMm, courses, closed, joints };
}

function jointsOn(
  { structure, elements }: RepeatSettings,
  lead: SampleGeometry,
  axis: Axis,
  pitchMm: Pitch,
  stretched: number,
  repeatMm: number,
): Joints[Axis] {
  const found = structure[axis];
  const { stagger } = structure;
  // Staggered joints do not run through: only the courses are cut in them.
  const staggered = axis === 'across' && structure.up && stagger > 0.04 && stagger < 0.96;
  if (!found || lead.used !== lead.frame || staggered) return null;
  const { known } = lengthsOf(lead, elements.scale);
  return {
    period: pitchMm[axis]! / repeatMm,
    first: (found.first * elements.scale * stretched * known[axis].mm) / repeatMm,
  };
}

function planAtEdges(repeat: RepeatSettings, lead: SampleGeometry, version: number): LayeredPlan | CutPlan {
  const { used } = lengthsOf(lead, repeat.elements.scale);
  const by = { across: repeat.across.closing, up: repeat.up.closing };
  const is = (closing: string) => ({ across: by.across === closing, up: by.up === closing });
  const [across, up] = [
    axisAtEdges(repeat, lead, 'across', version),
    axisAtEdges(repeat, lead, 'up', version),
  ];
  const repeatMm = { width: across.repeatMm, height: up.repeatMm };
  const pitchMm = {
    across: periodMm(repeat, lead, 'across'),
    up: periodMm(repeat, lead, 'up'),
    stagger: repeat.structure.stagger,
  };
  const plan: AnyPlan = {
    across,
    up,
    repeatMm,
    laidMm: { width: used.across, height: used.up },
    pitchMm,
    moduleMm: modulesOf(repeat, lead),
    courses: coursesIn(repeatMm, pitchMm),
  };
  const cut = is('cut');
  const plain = Object.values(by).every((closing) => closing === 'cut' || closing === 'abut');
  if (plain && (cut.across || cut.up)) {
    const jointsAlong = (axis: Axis, lengthMm: number) => jointsOn(repeat, lead, axis, pitchMm, 1, lengthMm);
    const joints = { across: jointsAlong('across', repeatMm.width), up: jointsAlong('up', repeatMm.height) };
    return { ...plan, kind: 'cut', closed: cut, joints };
  }
  return { ...plan, kind: 'layered', map: placeClosed(across, up), cutFirst: cut };
}

function axisAtEdges(repeat: RepeatSettings, lead: SampleGeometry, axis: Axis, version: number): ClosedAxis {
  const { used, known } = lengthsOf(lead, repeat.elements.scale);
  const own = known[axis].module;
  const module = own && { ...own, pitchMm: repeat.elements.scale * own.pitchMm };
  const held = (pitchMm: number) => Math.floor(used[axis] / pitchMm + 1e-6);
  const pitchMm = periodMm(repeat, lead, axis);
  // A counted axis closes on whole modules; in a picked area, on as many as it holds.
  const counted = module && lead.used !== lead.frame ? { ...module, count: held(module.pitchMm) } : module;
  return closeAxis({
    lengthMm: used[axis],
    ...repeat[axis],
    module: repeat.structure[axis] && pitchMm ? { pitchMm, count: held(pitchMm) } : counted,
    lineMm: lineToCutIn(repeat, lead, axis, version),
  });
}

/**
 * Where the first line between rows lies that an edge is cut along, mm: of boards and setts, which have no structure on the other axis.
 * @returns undefined: none is known, or before version 7
 */
function lineToCutIn(
  { structure, elements }: RepeatSettings,
  lead: SampleGeometry,
  axis: Axis,
  version: number,
): number | undefined {
  const [found, other] = [structure[axis], structure[axis === 'across' ? 'up' : 'across']];
  if (!cutsInLines(version) || !found || other || lead.used !== lead.frame) return undefined;
  return elements.scale * found.first * lengthsOf(lead, elements.scale).known[axis].mm;
}

/** Periods and courses that lie whole in a repeat. */
function coursesIn(repeatMm: SizeMm, pitchMm: Pitch): Courses {
  const whole = (mm: number, pitch: number | null) => {
    const n = pitch ? Math.round(mm / pitch) : 0;
    return n > 0 && Math.abs(mm / (n * pitch!) - 1) < 0.01 ? n : undefined;
  };
  return {
    across: whole(repeatMm.width, pitchMm.across),
    up: whole(repeatMm.height, pitchMm.up),
    stagger: pitchMm.stagger,
  };
}
