import {
  closeAxis,
  composedAxis,
  placeClosed,
  type ClosedAxis,
  type Courses,
  coursesOfBond,
  type Joints,
  type Pitch,
  type PlacementMap,
} from '../repeat';
import { areaSizeMm, resolveSize, type ResolvedSize } from '../size';
import { frameOfQuad, makeFrame, type Frame, type PictureShape, type Quad } from '../straighten';
import type { Recipe } from './recipe';

/** Where the finish lies in its sample, and how large that is: all geometry before the repeat. */
export interface SampleGeometry {
  /** The straightened frame, to which the size belongs. */
  frame: Frame;
  size: ResolvedSize;
  /** What the repeat is made from: the frame, or an area picked out of it. */
  used: Frame;
  usedMm: { width: number; height: number };
}

/**
 * Frame, size and used area of a recipe's first picture.
 * @throws RangeError with a sentence when corners, lines or marks cannot be
 */
export function resolveSample(recipe: Pick<Recipe, 'sample' | 'size'>, sample: PictureShape): SampleGeometry {
  const frame = makeFrame(sample, { ...recipe.sample, frame: recipe.sample.frame as Quad | null });
  const size = resolveSize(recipe.size, frame);
  const frameMm = { width: size.width.mm, height: size.height.mm };
  const area = recipe.sample.used && recipe.sample.areas.find((a) => a.id === recipe.sample.used);
  if (!area) return { frame, size, used: frame, usedMm: frameMm };
  return {
    frame,
    size,
    used: frameOfQuad(sample, frame.bow, area.corners as Quad),
    usedMm: areaSizeMm(frame, frameMm, area.corners),
  };
}

export interface RepeatGeometry extends SampleGeometry {
  /** Size of the used part as it is laid in the repeat: its own, times the scale of its elements and what it is stretched by. */
  laidMm: { width: number; height: number };
  across: ClosedAxis;
  up: ClosedAxis;
  /** Size of the repeat, and its layers; empty where the placement is still to be solved. */
  map: PlacementMap;
  /** What is to be solved from the pixels of the sample; null: nothing. */
  solve: 'cut' | 'compose' | null;
  /** The axis that is closed by a cut before the other is blended or mirrored. */
  cutFirst: { across: boolean; up: boolean };
  /** Which edges are to meet. */
  closed: { across: boolean; up: boolean };
  /** Period of the structure copies stay in step with. */
  pitchMm: Pitch;
  /** How many periods and courses of it lie in the repeat. */
  courses: Courses;
  /** Where its joints lie, in shares of the repeat; null where that is not known. */
  joints: Joints;
}

/** Periods and courses that lie whole in a repeat. */
function coursesIn(repeatMm: { width: number; height: number }, pitchMm: Pitch): Courses {
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

/** A period found is the known module when they differ by less. */
const SAME_PERIOD = 0.02;

/** The geometry of a finish without its pixels: frame, size, how it closes, and the repeat. */
export function resolveRepeat(
  recipe: Pick<Recipe, 'sample' | 'size' | 'repeat'>,
  sample: PictureShape,
): RepeatGeometry {
  const geometry = resolveSample(recipe, sample);
  const { size, usedMm, frame, used } = geometry;
  const { repeat } = recipe;
  const known = { across: size.width, up: size.height };
  const { scale } = repeat.elements;
  const usedLength = { across: scale * usedMm.width, up: scale * usedMm.height };
  const periodMm = (axis: 'across' | 'up') => {
    const found = repeat.structure[axis];
    const pitch = known[axis].module?.pitchMm;
    const module = pitch ? scale * pitch : null;
    if (!found) return module;
    const mm = scale * found.period * known[axis].mm;
    // What was found in pixels is as good as a pixel; where it is the counted module, that is the true length.
    return module && Math.abs(mm / module - 1) < SAME_PERIOD ? module : mm;
  };
  if (repeat.way === 'compose') {
    const { widthMm, heightMm, closed: edges, stretchMost } = repeat.compose;
    const closed = { across: edges !== 'up', up: edges !== 'across' };
    const { stagger } = repeat.structure;
    const plain = { across: periodMm('across'), up: periodMm('up') };
    // A bond repeats after as many courses as bring it back.
    const bondMm = plain.up && plain.up * coursesOfBond(plain.across ? stagger : 0);
    const across = composedAxis('wide', widthMm, usedLength.across, plain.across, closed.across, stretchMost);
    const up = composedAxis('high', heightMm, usedLength.up, bondMm, closed.up, stretchMost);
    const stretched = { across: 1 + (across.stretch ?? 0), up: 1 + (up.stretch ?? 0) };
    const pitchMm = {
      across: plain.across && plain.across * stretched.across,
      up: plain.up && plain.up * stretched.up,
      stagger,
    };
    const jointsOn = (axis: 'across' | 'up', repeatMm: number) => {
      const found = repeat.structure[axis];
      // Staggered joints do not run through: only the courses are cut in them.
      if (
        !found ||
        used !== frame ||
        (axis === 'across' && repeat.structure.up && stagger > 0.04 && stagger < 0.96)
      )
        return null;
      return {
        period: pitchMm[axis]! / repeatMm,
        first: (found.first * scale * stretched[axis] * known[axis].mm) / repeatMm,
      };
    };
    return {
      ...geometry,
      laidMm: { width: usedLength.across * stretched.across, height: usedLength.up * stretched.up },
      across,
      up,
      map: { repeatMm: { width: across.repeatMm, height: up.repeatMm }, layers: [] },
      solve: 'compose',
      cutFirst: { across: false, up: false },
      closed,
      pitchMm,
      courses: coursesIn({ width: across.repeatMm, height: up.repeatMm }, pitchMm),
      joints: { across: jointsOn('across', across.repeatMm), up: jointsOn('up', up.repeatMm) },
    };
  }
  const { closing: acrossBy } = repeat.across;
  const { closing: upBy } = repeat.up;
  const plain = [acrossBy, upBy].every((by) => by === 'cut' || by === 'abut');
  const cut = acrossBy === 'cut' || upBy === 'cut';
  const axis = (key: 'across' | 'up') => {
    const own = known[key].module;
    const module = own && { ...own, pitchMm: scale * own.pitchMm };
    // A counted axis closes on whole modules; in a picked area, on as many as it holds.
    const held =
      module && used !== frame
        ? { ...module, count: Math.floor(usedLength[key] / module.pitchMm + 1e-6) }
        : module;
    const found = repeat.structure[key];
    const pitchMm = periodMm(key);
    return closeAxis({
      lengthMm: usedLength[key],
      ...repeat[key],
      module: found && pitchMm ? { pitchMm, count: Math.floor(usedLength[key] / pitchMm + 1e-6) } : held,
    });
  };
  const [across, up] = [axis('across'), axis('up')];
  const pitchMm = { across: periodMm('across'), up: periodMm('up'), stagger: repeat.structure.stagger };
  return {
    ...geometry,
    laidMm: { width: usedLength.across, height: usedLength.up },
    across,
    up,
    map: placeClosed(across, up),
    solve: cut && plain ? 'cut' : null,
    cutFirst: { across: !plain && acrossBy === 'cut', up: !plain && upBy === 'cut' },
    closed: { across: acrossBy === 'cut', up: upBy === 'cut' },
    pitchMm,
    courses: coursesIn({ width: across.repeatMm, height: up.repeatMm }, pitchMm),
    joints: { across: null, up: null },
  };
}
