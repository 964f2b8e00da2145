import { serialize } from 'node:v8';
import { colourReadingSteps } from '../colour';
import { distinctNeighboursSteps } from '../layout/blend';
import { coverInSteps } from '../layout/cover';
import { initialLayout, layingSteps, layPieces } from '../layout';
import { jointsOfPiecesSteps } from '../pieces/joints-of-pieces';
import {
  FORM_TABLE,
  PathTracer,
  smoothingSteps,
  tracedFinish,
  triangleSteps,
  type FinishMaps,
} from '../proof';
import { reflectedLight } from '../photometric/reflected-light';
import { integrationSteps } from '../photometric/surface-from-slopes';
import {
  blurSteps,
  distanceSteps,
  fractalNoise,
  luminancePlane,
  makeColourPicture,
  resamplePictureSteps,
  seededRandom,
  type ColourPicture,
} from '../raster';
import { normalsOfHeight } from '../relief';
import { withoutAlbedoSteps } from '../relief/albedo';
import { standingOutSteps } from '../relief/compose';
import { generatedReliefSteps } from '../relief/generated';
import { piecesOfRepeatSteps } from '../relief/joints';
import { normalsSteps } from '../relief/normal';
import { boundedSlopesSteps } from '../relief/octaves';
import { occlusionInSteps } from '../relief/occlusion';
import { makingAtlas } from '../repeat/compose/atlas';
import { compose } from '../repeat/compose/solve';
import { gridOf } from '../repeat/grids';
import { screenedSteps } from '../repeat/screened';
import { seamFiguresSteps } from '../repeat/seam';
import { enlargingSteps } from '../sample';
import { structureSteps } from '../size';
import { makeFrame, warpSteps } from '../straighten';
import { atOnce, type Steps } from '../steps';
import { figure } from '../units';
import { runOffSteps } from '../weathering/water';

/** Work that takes seconds is left at each of its steps: it has many, and comes to the same as at once. */

const [W, H] = [240, 180];

/** Bricks in half bond with dark joints, and grain. */
function wall(): ColourPicture {
  const out = makeColourPicture(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const course = Math.floor(y / 18);
    const along = (x + (course % 2) * 20) % 40;
    const joint = y % 18 < 3 || along < 3;
    const v = (joint ? 0.1 : 0.4) * (1 + 0.1 * fractalNoise(x / W, y / H, 12, 9, 2, 0.5, 3));
    [out.r[i], out.g[i], out.b[i]] = [v, 0.8 * v, 0.7 * v];
  }
  return out;
}
const WALL = wall();
const HEIGHT = { widthPx: W, heightPx: H, data: WALL.r.map((v) => 4 * v) };
const MM = { x: 1, y: 1 };

function noiseToSmooth() {
  const maps: FinishMaps = {
    ...{ widthPx: 1, heightPx: 1, repeatMm: { width: 1000, height: 1000 } },
    colour: Uint8ClampedArray.from([160, 160, 160, 255]),
    normal: Uint8ClampedArray.from([128, 128, 255, 255]),
    ...{ roughness: 0.6, metalness: 0, opacity: 1 },
    physical: { index: 1.5, coat: null, sheen: null, brushed: null, haze: null, glass: null, cloth: null },
  };
  const light = { name: 'overcast', azimuthDeg: 0, elevationDeg: 90 } as const;
  const triangles = atOnce(triangleSteps(FORM_TABLE['room-wall'].build()));
  const scene = { triangles, finish: tracedFinish(maps), light, exposure: 1, surround: 0.2 };
  const shot = { eye: [0, 1, 4], target: [0, 1, 0], fovDeg: 40, widthPx: 96, heightPx: 96 } as const;
  const tracer = new PathTracer(scene, shot);
  tracer.addRows(0, 96, 0);
  tracer.gathered.samples = 1;
  return tracer.gathered;
}

function rightHandSide(): Float64Array {
  const random = seededRandom(4);
  return Float64Array.from({ length: W * H }, () => random.normal());
}
const GRID = {
  ...{ widthPx: W, heightPx: H, closed: { across: true, up: true } },
  parted: { columns: new Uint8Array(W), rows: new Uint8Array(H) },
};

const SAMPLE = { picture: WALL, keptOut: null, held: null };
const TURNS = ([0, 1, 2, 3] as const).map((quarters) => ({ quarters, flipped: false }));
/** A repeat that is composed; of the outcome only where its pixels come from. */
function* composing(): Steps<Int32Array> {
  const steps = compose({
    ...{ sources: [SAMPLE], widthPx: 96, heightPx: 80, closed: { across: true, up: true } },
    ...{ turns: TURNS.slice(0, 1), seed: 3, patchPx: { w: 40, h: 32 } },
  });
  for (let next = steps.next(); ; next = steps.next()) {
    if (next.done) return next.value.place;
    yield;
  }
}
const SLOPES = { x: HEIGHT, y: { ...HEIGHT, data: HEIGHT.data.map((v) => 1 - v) } };
const LIT = { picture: WALL, light: { directionTo: [0.6, 0, 0.8] as const } };
/** Lines of a picture that goes on over its edges by half its shorter side. */
const OVER_EDGES = W + H + 2 * Math.min(W, H);
const JOINTS = Uint8Array.from(WALL.r, (v) => (v < 0.2 ? 1 : 0));
const PIECES = layPieces(initialLayout('running'));
const COVER_MM = { insideMm: 5, outsideMm: 10 };

/** A picture of more pixels than are computed between two turns. */
const LARGE = atOnce(
  resamplePictureSteps(WALL, { leftPx: 0, topPx: 0, stepX: 0.2, stepY: 0.2 }, 5 * W, 5 * H),
);
const LARGE_PX = { width: LARGE.widthPx, height: LARGE.heightPx };
const LARGE_LIGHT = luminancePlane(LARGE);
const ASKEW = makeFrame(
  { widthPx: LARGE.widthPx, heightPx: LARGE.heightPx },
  {
    bowLines: [],
    frame: [
      [0.05, 0.02],
      [0.97, 0.08],
      [0.93, 0.96],
      [0.02, 0.9],
    ],
  },
);
const CLOUDS = {
  ...({ kind: 'generated', id: '', name: '', depthMm: figure(1, 'mm', 'assumed'), along: 'width' } as const),
  ...{ longestMm: 90, shortestMm: 40, stretch: 1, falloff: 0.6, seed: 3 },
};

const WORK: readonly [name: string, steps: number, () => Steps<unknown>][] = [
  ['finding a structure', 4, () => structureSteps(WALL)],
  ['looking for joints', 8, () => jointsOfPiecesSteps(WALL)],
  ['making finer detail', 40, () => enlargingSteps(WALL)],
  ['making an atlas of a sample, turned all ways', 12, () => makingAtlas([SAMPLE], TURNS)],
  ['composing', 60, () => composing()],
  ['drawing the pieces of a layout', 20, () => coverInSteps(PIECES, { width: 160, height: 160 }, COVER_MM)],
  ['evening out', 4, () => screenedSteps(rightHandSide(), gridOf(GRID, 1 / 400))],
  ['laying fitted stones', 15, () => layingSteps(initialLayout('random-rubble'))],
  ['laying courses of boards', 10, () => layingSteps(initialLayout('random-length'))],
  ['water that runs down a wall', 3, () => runOffSteps(HEIGHT, MM)],
  [
    'integrating slopes',
    5,
    () => integrationSteps(SLOPES, { ...HEIGHT, data: HEIGHT.data.map(() => 1) }, MM),
  ],
  ['following light from face to face', 4, () => reflectedLight([LIT], HEIGHT, MM)],
  ['building a tree of triangles', 5, () => triangleSteps(FORM_TABLE.sphere.build())],
  ['smoothing a refined picture', 20, () => smoothingSteps(noiseToSmooth(), 96, 96)],
  ['occlusion', 4, () => occlusionInSteps(HEIGHT, normalsOfHeight(HEIGHT, MM), MM, 12)],
  ['normals', H, () => normalsSteps(HEIGHT, MM)],
  ['holding slopes', 12, () => boundedSlopesSteps(HEIGHT, MM, 10)],
  ['distances over edges that meet', OVER_EDGES, () => distanceSteps(JOINTS, W, H, MM, true)],
  [
    'pieces of a repeat with their outlines',
    3 * OVER_EDGES,
    () => piecesOfRepeatSteps(WALL, MM, { look: 'darker', widestMm: 4 }),
  ],
  ['comparing a seam with what is inside', 2 * H, () => seamFiguresSteps(WALL, { across: 6, up: 10 })],
  ['reading a colour', 4, () => colourReadingSteps(WALL)],
  ['laying setts in fans', 30, () => layingSteps(initialLayout('setts-fans'))],
  ['straightening', 160, () => warpSteps(LARGE, 0, ASKEW, 900, 700)],
  ['blurring', 5, () => blurSteps(LARGE_LIGHT, 4, 4)],
  ['finding arrises', 8, () => standingOutSteps(LARGE_LIGHT, MM, { place: 'arrises', reachMm: 12 })],
  ['taking colour out of lightness', 12, () => withoutAlbedoSteps(LARGE, null)],
  ['relief of several octaves', 6, () => generatedReliefSteps(CLOUDS, { width: 300, height: 225 }, LARGE_PX)],
  [
    'kinds of pieces that differ from those beside them',
    PIECES.pieces.length,
    () => distinctNeighboursSteps(PIECES.pieces.length, PIECES.neighbours, 2, seededRandom(5)),
  ],
];

test.each(WORK)(
  '%s is left at any of at least %i steps, and comes to the same as at once',
  (_, least, begin) => {
    const steps = begin();
    let taken = 0;
    let last = steps.next();
    for (; !last.done; last = steps.next()) taken++;
    expect(taken).toBeGreaterThanOrEqual(least);
    expect(serialize(last.value).equals(serialize(atOnce(begin())))).toBe(true);
  },
);
