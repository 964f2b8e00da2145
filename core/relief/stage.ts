import {
  hashOf,
  mmPerPxOf,
  open,
  Refusal,
  withFields,
  wrong,
  type Check,
  type LaidSurface,
  type Pending,
  type RenderContext,
  type Surface,
  type SurfaceStage,
} from '../surface';
import { makePlane, type ColourPicture, type Plane } from '../raster';
import { printNumber } from '../units';
import {
  bandsOfPicture,
  bandsOfPlane,
  reliefFromBands,
  withZero,
  type Bands,
  type HeightField,
} from './height';
import { heightOfNormals } from './integrate';
import { normalsOfHeight, slopes } from './normal';
import { occlusionOfHeight } from './occlusion';
import { withoutAlbedo, type WithoutAlbedo } from './albedo';
import { piecesOfRepeat, reliefOfJoints, type PiecesOfRepeat } from './joints';
import { boundedSlopes } from './octaves';
import { depthOf, type BandedContribution, type JointsContribution, type ReliefSettings } from './settings';

/** What the relief stage came to. */
export interface ReliefReport {
  heightMm: { min: number; max: number; zero: number };
  slopeDeg: { mean: number; p99: number };
}

/** From the lowest to the highest point, mm: less than asked where slopes are held or colour is left out. */
export const reliefRangeMm = ({ heightMm }: Pick<ReliefReport, 'heightMm'>): number =>
  heightMm.max - heightMm.min;

/** Composes the height of contributions, and derives normals and occlusion from it. */
export const reliefStage: SurfaceStage<ReliefSettings, ReliefReport> = {
  name: 'relief',
  version: 1,
  work: 6,

  run(ctx, settings, surface) {
    const mm = mmPerPxOf(surface);
    const height = heightOf(ctx, settings, surface);
    const normal = ctx.later(['normal', height.key], async () => {
      const h = await height.get();
      await ctx.step(0.4, 'Deriving normals');
      return normalsOfHeight(h, mm);
    });
    const occlusion = ctx.later(['occlusion', height.key], async () => {
      const [h, n] = [await height.get(), await normal.get()];
      await ctx.step(0.5, 'Deriving occlusion');
      // What is laid stands out by its joints and laps too.
      const depthMm = surface.laid ? h.maxMm - h.minMm : depthOf(settings);
      return occlusionOfHeight(h, n, mm, occlusionRadiusMm(depthMm, mm));
    });
    return withFields(surface, { height, normal, occlusion });
  },

  async report(ctx, settings, surface) {
    const { fields } = surface;
    const { minMm, maxMm } = await fields.height!.get();
    const slope = await ctx.known(hashOf('slopes', fields.normal!.key), async () =>
      slopes(await fields.normal!.get()),
    );
    const report: ReliefReport = {
      heightMm: { min: minMm, max: maxMm, zero: 0 },
      slopeDeg: { mean: slope.meanDeg, p99: slope.p99Deg },
    };
    const from = surface.laid?.faces ?? surface;
    const picture = settings.contributions.find((c) => c.kind === 'picture' && c.colourOut);
    const left = picture ? (await lightnessAlone(ctx, settings, from).get()).leftWithin : 1;
    const joints = settings.contributions.find((c) => c.kind === 'joints');
    const seen = joints ? (await piecesBy(ctx, joints, from).get()).pieces.pieces.length : null;
    return {
      report,
      checks: [
        ...checkRelief(settings, report, surface.laid !== undefined),
        ...lookPrinted(left),
        ...unseenJoints(joints, seen),
      ],
    };
  },
};

/** Beyond six times the depth a rise stands below 10° and takes next to no light. */
function occlusionRadiusMm(depthMm: number, mm: { x: number; y: number }): number {
  return Math.max(6 * depthMm, 2 * Math.max(mm.x, mm.y));
}

function heightOf(ctx: RenderContext, settings: ReliefSettings, surface: Surface): Pending<HeightField> {
  const { contributions, zero } = settings;
  const { laid } = surface;
  // What comes of the pictures is read from the faces before they are laid.
  const from = laid?.faces ?? surface;
  const parts = contributions.map((c) =>
    c.kind === 'joints' ? heightOfJoints(ctx, c, from) : heightFrom(ctx, settings, c, from),
  );
  const keys = parts.map((part) => part.key);
  const made = laid ? [laid.relief.key, laid.others.map(({ key }) => key), laid.honed] : null;
  return ctx.later(['height', keys, zero, surface.px, made], async () => {
    await ctx.step(0, 'Reading the relief');
    const sum = makePlane(from.px.width, from.px.height);
    for (const part of parts) add(sum, await part.get());
    return withZero(laid ? await laidRelief(laid, sum, await surface.pieces.get()) : sum, zero);
  });
}

function add({ data }: Plane, { data: more }: Plane): void {
  for (let i = 0; i < data.length; i++) data[i]! += more[i]!;
}

/**
 * The relief of the faces as they are laid, without it in the joints, and what laying makes. Every face is level on average:
 * only laying lifts or tilts a piece.
 */
async function laidRelief(laid: LaidSurface, ofFaces: Plane, pieces: Int32Array | null): Promise<Plane> {
  const [height, made, joint] = [await laid.lay(ofFaces), await laid.relief.get(), await laid.joint.get()];
  for (const { surface, layOver } of laid.others)
    await layOver(await (await surface.get()).fields.height!.get(), height);
  if (laid.honed) height.data.fill(0);
  else if (pieces) levelFaces(height.data, pieces);
  for (let i = 0; i < height.data.length; i++)
    height.data[i] = (1 - joint.data[i]!) * height.data[i]! + made.data[i]!;
  return height;
}

/** Takes the mean height of every piece off it. */
function levelFaces(height: Float32Array, pieces: Int32Array): void {
  let count = 0;
  for (let i = 0; i < pieces.length; i++) if (pieces[i]! >= count) count = pieces[i]! + 1;
  const [sum, pixels] = [new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < pieces.length; i++)
    if (pieces[i]! >= 0) {
      sum[pieces[i]!]! += height[i]!;
      pixels[pieces[i]!]!++;
    }
  for (let i = 0; i < pieces.length; i++)
    if (pieces[i]! >= 0) height[i]! -= sum[pieces[i]!]! / pixels[pieces[i]!]!;
}

/** Pieces of the picture by the joints of a contribution. */
function piecesBy(ctx: RenderContext, joints: JointsContribution, surface: Surface): Pending<PiecesOfRepeat> {
  const { look, widestMm } = joints;
  const picture = surface.fields.picture!;
  return ctx.later(['pieces', picture.key, look, widestMm], async () => {
    const shown = await picture.get();
    await ctx.step(0.05, 'Segmenting pieces');
    return piecesOfRepeat(shown, mmPerPxOf(surface), joints);
  });
}

function heightOfJoints(ctx: RenderContext, joints: JointsContribution, surface: Surface): Pending<Plane> {
  const pieces = piecesBy(ctx, joints, surface);
  const { edgeMm, depthMm } = joints;
  const { width: widthPx, height: heightPx } = surface.px;
  return ctx.later(['joints', pieces.key, edgeMm, depthMm.value], async () =>
    reliefOfJoints(await pieces.get(), { widthPx, heightPx }, { edgeMm, depthMm: depthMm.value }),
  );
}

/** Lightness of the picture less what is colour; pieces are those of the first contribution that knows joints. */
function lightnessAlone(
  ctx: RenderContext,
  { contributions }: ReliefSettings,
  surface: Surface,
): Pending<WithoutAlbedo> {
  const joints = contributions.find((c) => c.kind === 'joints');
  const pieces = joints ? piecesBy(ctx, joints, surface) : null;
  const picture = surface.fields.picture!;
  return ctx.later(['without albedo', picture.key, pieces?.key ?? null], async () =>
    withoutAlbedo(await picture.get(), pieces && (await pieces.get())),
  );
}

/** Height by one contribution alone, mm about the middle of its depth. */
function heightFrom(
  ctx: RenderContext,
  settings: ReliefSettings,
  contribution: BandedContribution,
  surface: Surface,
): Pending<Plane> {
  const mm = mmPerPxOf(surface);
  const { kind, id: _, name: __, depthMm, ...shape } = contribution;
  const { broadFromMm, fineBelowMm } = shape;
  const alone = kind === 'picture' && contribution.colourOut ? lightnessAlone(ctx, settings, surface) : null;
  const from =
    kind === 'map'
      ? heightMapOf(surface)
      : { key: alone?.key ?? surface.fields.picture!.key, role: 'picture' as const };
  const bands = ctx.later(
    ['bands', from.key, from.role, broadFromMm, fineBelowMm],
    async (): Promise<Bands> => {
      if (alone) return bandsOfPlane((await alone.get()).lightness, mm, shape);
      if (from.role === 'picture') return bandsOfPicture(await surface.fields.picture!.get(), mm, shape);
      const { picture, greenRuns } = await from.get();
      const plane = from.role === 'normal' ? heightOfNormals(picture, mm, greenRuns) : planeOf(picture);
      return bandsOfPlane(plane, mm, shape);
    },
  );
  return ctx.later(['relief', bands.key, shape, depthMm.value], async () => {
    // The depth is that of the whole contrast of the picture.
    const left = alone ? (await alone.get()).left : 1;
    const relief = reliefFromBands(await bands.get(), mm, { ...shape, depthMm: left * depthMm.value });
    return boundedSlopes(relief, mm, shape.steepestDeg ?? 90);
  });
}

/** The map of the set that height is taken from. @throws Refusal when there is none */
function heightMapOf({ maps }: Surface) {
  for (const role of ['height', 'normal'] as const) {
    const map = maps.get(role);
    if (map) return { ...map, role };
  }
  throw new Refusal(
    'no-height-map',
    'The relief is to come from a map, but the set holds neither a height nor a normal map. Take it from the picture, or bring the map in.',
    'relief.contributions',
  );
}

/** A map as one plane: its green channel. */
const planeOf = ({ widthPx, heightPx, g }: ColourPicture): Plane => ({ widthPx, heightPx, data: g });

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

const STEEP_DEG = 60;

/** @param laid joints between pieces stand steep: they are no fault of the relief */
function checkRelief({ contributions }: ReliefSettings, { slopeDeg }: ReliefReport, laid: boolean): Check[] {
  const checks: Check[] = [];
  if (slopeDeg.p99 > STEEP_DEG && !laid)
    checks.push(
      wrong(
        'relief',
        'too-steep',
        `The relief is very steep: 1 % of it stands at more than ${printNumber(slopeDeg.p99, 0)}°. Lower its depth or its fine detail.`,
      ),
    );
  const assumed = contributions.find((c) => c.depthMm.basis === 'assumed');
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
