import { makePlane, type Plane } from '../raster';
import { inTurns, spans, type Steps } from '../steps';
import {
  hashOf,
  mmPerPxOf,
  open,
  withFields,
  withTurns,
  wrong,
  type Check,
  type Cost,
  type LaidSurface,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
  insteadOfPart,
} from '../surface';
import { printNumber } from '../units';
import { combineSteps, missingParts, weightOf } from './compose';
import { heightOfContribution, lightnessAlone, sharesLeft, piecesBy } from './contributions';
import { curvatureSteps } from './curvature';
import { directionSentence, directionsOf, type Direction } from './direction';
import { withZeroSteps, type HeightField } from './height';
import { fittedPitch } from './profile';
import { normalFieldOf, slopesOf } from './normal-field';
import { occlusionInSteps } from './occlusion';
import { occlusionOfVersion1 } from './occlusion-of-version-1';
import {
  depthOf,
  usedContributions,
  type JointsContribution,
  type ReliefContribution,
  type ReliefSettings,
} from './settings';

/** What the relief stage came to. */
export interface ReliefReport {
  heightMm: { min: number; max: number; zero: number };
  slopeDeg: { mean: number; p99: number };
  /** Which way it goes: what lies lower than what. */
  directions: Direction[];
}

/** From the lowest to the highest point, mm: less than asked where slopes are held or colour is left out. */
export const reliefRangeMm = ({ heightMm }: Pick<ReliefReport, 'heightMm'>): number =>
  heightMm.max - heightMm.min;

/** Composes the height of contributions, and derives normals and occlusion from it. */
export const reliefStage: SurfaceStage<ReliefSettings, ReliefReport> = {
  name: 'relief',
  version: 2,
  work: 6,

  run(ctx, settings, surface) {
    ctx.expect(costOfContributions(settings, surface), costOfMaps(surface.px));
    const mm = mmPerPxOf(surface);
    const height = heightOf(ctx, settings, surface);
    const normal = normalFieldOf(ctx, height, mm);
    const radius = settings.occlusionMm ?? null;
    const occlusion = ctx.releasable(
      ['occlusion', height.key, ...(radius === null ? [] : [radius])],
      async () => {
        const [h, n] = [await height.get(), await normal.get()];
        await ctx.step(0.5, 'Deriving occlusion');
        // What is laid stands out by its joints and laps too.
        const depthMm = surface.laid || surface.generated ? h.maxMm - h.minMm : depthOf(settings);
        const radiusMm = settings.occlusionMm ?? occlusionRadiusMm(depthMm, mm);
        return ctx.versionOf(reliefStage) >= 2
          ? inTurns(occlusionInSteps(h, n, mm, radiusMm), () => ctx.step(0.5, 'Deriving occlusion'))
          : occlusionOfVersion1(h, n, mm, radiusMm);
      },
    );
    const curvature = ctx.later(['curvature', height.key], async () =>
      withTurns(ctx.options, curvatureSteps(await height.get(), mm)),
    );
    return withFields(surface, { height, normal, occlusion, curvature });
  },

  async report(ctx, settings, surface) {
    const { fields } = surface;
    const { minMm, maxMm } = await fields.height!.get();
    const slope = await slopesOf(ctx, fields.normal!).get();
    const used = usedContributions(settings);
    const joints = used.find((c) => c.kind === 'joints');
    const partKeys = [...surface.parts.values()].map(({ key }) => key);
    const directions = await ctx.known(hashOf('directions', fields.height!.key, partKeys), () =>
      directionsOf(ctx, surface, joints),
    );
    const report: ReliefReport = {
      heightMm: { min: minMm, max: maxMm, zero: 0 },
      slopeDeg: { mean: slope.meanDeg, p99: slope.p99Deg },
      directions,
    };
    const from = surface.laid?.faces ?? surface;
    const picture = used.find((c) => c.kind === 'picture' && c.colourOut);
    const left = picture ? (await sharesLeft(ctx, lightnessAlone(ctx, used, from))).leftWithin : 1;
    const seen = joints ? (await piecesBy(ctx, joints, from).get()).pieces.pieces.length : null;
    return {
      report,
      checks: [
        ...checkRelief(settings, report, surface.laid !== undefined || surface.generated !== undefined),
        ...lookPrinted(left),
        ...unseenJoints(joints, seen),
        ...standingOut(directions),
        ...used.flatMap((c) => withoutParts(c, surfaceFor(c, surface))),
        ...used.flatMap((c) => otherPitch(c, surfaceFor(c, surface))),
      ],
    };
  },
};

/** Every contribution is as large as what it is read from. */
function costOfContributions(settings: ReliefSettings, surface: Surface): Cost {
  const used = usedContributions(settings);
  const pixels = used.reduce((sum, c) => {
    const { width, height } = surfaceFor(c, surface).px;
    return sum + width * height;
  }, 0);
  return {
    what: `building up the relief of ${used.length} contributions`,
    less: 'Take contributions out',
    where: 'relief.contributions',
    seconds: 0.1 + (0.5 * pixels) / 1e6,
    bytes: 8 * pixels,
  };
}

/** What every set of maps takes, whatever it is of: its colour, height, normals, occlusion and roughness, and figures of them. */
const costOfMaps = ({ width, height }: Surface['px']): Cost => ({
  what: `maps of ${width} × ${height} px`,
  less: 'Make the repeat smaller',
  where: '',
  seconds: 0.2 + (2 * width * height) / 1e6,
  bytes: 60 * width * height,
});

/** Beyond six times the depth a rise stands below 10° and takes next to no light. */
export function occlusionRadiusMm(depthMm: number, mm: { x: number; y: number }): number {
  return Math.max(6 * depthMm, 2 * Math.max(mm.x, mm.y));
}

function heightOf(ctx: RenderContext, settings: ReliefSettings, surface: Surface): Pending<HeightField> {
  const { zero } = settings;
  const { laid } = surface;
  const used = usedContributions(settings);
  // What comes of the pictures is read from the faces before they are laid; the rest lies over all that is laid.
  const from = laid?.faces ?? surface;
  const ofFaces = used.filter((c) => surfaceFor(c, surface) === from);
  const overAll = laid ? used.filter((c) => surfaceFor(c, surface) === surface) : [];
  const heightFor = (c: ReliefContribution, of: Surface): Step => ({
    contribution: c,
    height: heightOfContribution(ctx, used, c, of),
    of,
  });
  const whole = (c: ReliefContribution) => missingParts(c, surfaceFor(c, surface)).length === 0;
  const faces = ofFaces.filter(whole).map((c) => heightFor(c, from));
  const over = overAll.filter(whole).map((c) => heightFor(c, surface));
  const keys = [faces.map(keyOfStep), over.map(keyOfStep)];
  const made = laid ? [laid.relief.key, laid.others.map(({ key }) => key), laid.honed] : null;
  const generated = from.generated ? [from.generated.height.key] : [];
  return ctx.later(['height', keys, zero, surface.px, made, ...generated], async () => {
    await ctx.step(0, 'Reading the relief');
    const sum = makePlane(from.px.width, from.px.height);
    if (from.generated) sum.data.set((await from.generated.height.get()).data);
    await addInTurn(ctx, sum, faces);
    const all = laid ? await laidRelief(ctx, laid, sum, await surface.pieces.get()) : sum;
    await addInTurn(ctx, all, over);
    return withTurns(ctx.options, withZeroSteps(all, zero));
  });
}

/** Contributions that lie over the pieces of a layout, not on the faces that they are cut from. */
const OVER_ALL: ReadonlySet<ReliefContribution['kind']> = new Set(['part', 'generated', 'profile']);

/** The surface that a contribution is read from: the faces before they are laid, or all that is laid. */
const surfaceFor = ({ kind }: ReliefContribution, surface: Surface): Surface =>
  surface.laid && !OVER_ALL.has(kind) ? surface.laid.faces : surface;

interface Step {
  contribution: ReliefContribution;
  height: Pending<Plane>;
  of: Surface;
}

const keyOfStep = ({ height, contribution: { combine: how, mask }, of }: Step) => [
  height.key,
  how ?? 'add',
  mask ?? null,
  mask?.part ? of.parts.get(mask.part)?.key : null,
];

async function addInTurn({ options }: RenderContext, sum: Plane, steps: readonly Step[]): Promise<void> {
  for (const { contribution, height, of } of steps) {
    const { mask, combine: how } = contribution;
    const weight = mask ? await weightOf(options, mask, sum, of) : null;
    await withTurns(options, combineSteps(sum, await height.get(), weight, how ?? 'add'));
  }
}

/**
 * The relief of the faces as they are laid, without it in the joints, and what laying makes. Every face is level on average:
 * only laying lifts or tilts a piece.
 */
async function laidRelief(
  { options }: RenderContext,
  laid: LaidSurface,
  ofFaces: Plane,
  pieces: Int32Array | null,
): Promise<Plane> {
  const [height, made, joint] = [await laid.lay(ofFaces), await laid.relief.get(), await laid.joint.get()];
  for (const { surface, layOver } of laid.others)
    await layOver(await (await surface.get()).fields.height!.get(), height);
  if (laid.honed) height.data.fill(0);
  else if (pieces) await withTurns(options, levelFaces(height.data, pieces));
  await withTurns(options, withoutInJoints(height.data, joint.data, made.data));
  return height;
}

/** The relief of faces where there are no joints, and what laying makes. */
function* withoutInJoints(height: Float32Array, joint: Float32Array, made: Float32Array): Steps<void> {
  for (const { from, to } of spans(height.length)) {
    yield;
    for (let i = from; i < to; i++) height[i] = (1 - joint[i]!) * height[i]! + made[i]!;
  }
}

/** Takes the mean height of every piece off it. */
function* levelFaces(height: Float32Array, pieces: Int32Array): Steps<void> {
  let count = 0;
  for (let i = 0; i < pieces.length; i++) if (pieces[i]! >= count) count = pieces[i]! + 1;
  const [sum, pixels] = [new Float64Array(count), new Float64Array(count)];
  for (const { from, to } of spans(pieces.length)) {
    yield;
    for (let i = from; i < to; i++)
      if (pieces[i]! >= 0) {
        sum[pieces[i]!]! += height[i]!;
        pixels[pieces[i]!]!++;
      }
  }
  for (const { from, to } of spans(pieces.length)) {
    yield;
    for (let i = from; i < to; i++) if (pieces[i]! >= 0) height[i]! -= sum[pieces[i]!]! / pixels[pieces[i]!]!;
  }
}

const unseenJoints = (joints: JointsContribution | undefined, pieces: number | null): Check[] =>
  joints && pieces !== null && pieces < 2
    ? [
        open(
          'relief',
          'joints-unseen',
          `No joints are seen that are ${joints.look} than the faces and at most ${printNumber(joints.widestMm, 1)}\u2009mm wide, so none are recessed. Choose another look or a wider joint.`,
        ),
      ]
    : [];

/** A picture of whose contrast less is left without its colours shows a print, or a surface without relief. */
const PRINTED = 0.35;

const lookPrinted = (left: number): Check[] =>
  left > PRINTED
    ? []
    : [
        open(
          'relief',
          'looks-printed',
          `Of the contrast of the picture ${printNumber(100 * (1 - left), 0)} % goes with its colours, as in a print: little relief is taken from it. Where the surface is flat, set the depth to 0\u2009mm.`,
        ),
      ];

/** A contribution whose part is gone is left out, until it names another one. */
const withoutParts = (c: ReliefContribution, surface: Surface): Check[] =>
  missingParts(c, surface).map(() =>
    wrong(
      'relief',
      `part-missing-${c.id}`,
      `The contribution “${c.name}” uses a part that this finish does not have, so it is left out. ${insteadOfPart(surface.parts)}`,
    ),
  );

/** A profile whose whole numbers fit the repeat only at another pitch. */
const PITCH_OFF = 0.005;

function otherPitch(c: ReliefContribution, { sizeMm }: Surface): Check[] {
  if (c.kind !== 'profile') return [];
  const { count, pitchMm } = fittedPitch(c, sizeMm);
  if (Math.abs(pitchMm / c.pitchMm - 1) <= PITCH_OFF) return [];
  const across = c.along === 'width' ? sizeMm.height : sizeMm.width;
  return [
    open(
      'relief',
      `pitch-fitted-${c.id}`,
      `“${c.name}” was asked at a pitch of ${printNumber(c.pitchMm, 2)}\u2009mm and stands at ${printNumber(pitchMm, 2)}\u2009mm: ${count} of them fit the ${printNumber(across, 1)}\u2009mm of the repeat. A repeat of ${printNumber(c.pitchMm * count, 1)}\u2009mm keeps the pitch.`,
    ),
  ];
}

/** Joints that stand out this much are raised, mm. */
const RAISED_MM = 0.05;

const standingOut = (directions: readonly Direction[]): Check[] =>
  directions
    .filter(({ of, aboveMm }) => of.kind === 'joints' && aboveMm > RAISED_MM)
    .map((direction) =>
      open(
        'relief',
        'joints-raised',
        `${directionSentence(direction)} If they are recessed in reality, turn the relief over or add joints.`,
      ),
    );

const STEEP_DEG = 60;

/** @param mayBeSteep joints between pieces and generated bodies, such as yarns, stand steep: they are no fault of the relief */
function checkRelief(
  { contributions }: ReliefSettings,
  { slopeDeg }: ReliefReport,
  mayBeSteep: boolean,
): Check[] {
  const checks: Check[] = [];
  if (slopeDeg.p99 > STEEP_DEG && !mayBeSteep)
    checks.push(
      wrong(
        'relief',
        'too-steep',
        `The relief is very steep: 1 % of it stands at more than ${printNumber(slopeDeg.p99, 0)}°. Lower its depth or its fine detail.`,
      ),
    );
  const assumed = usedContributions({ contributions }).find((c) => c.depthMm.basis === 'assumed');
  if (assumed)
    checks.push(
      open(
        'relief',
        'depth-assumed',
        `The relief depth of ${printNumber(assumed.depthMm.value, 2)}\u2009mm is assumed.`,
      ),
    );
  return checks;
}
