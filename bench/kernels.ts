import sharp, { type Sharp } from 'sharp';
import {
  blurWrapped,
  makePlane,
  resample,
  seededRandom,
  type ColourPicture,
  type Plane,
} from '@jossel/core/raster';
import { makeFrame, warp } from '@jossel/core/straighten';

/**
 * Kernels in proportion to what libvips takes for the same step on one thread: blur, shrinking, enlarging, straightening.
 * Jossel's planes are 32-bit floats; libvips gets 16-bit pictures, which it is as exact with.
 */

const SIDE = 2048;
const RUNS = 7;
const median = (times: number[]) => times.sort((a, b) => a - b)[times.length >> 1]!;

/** Medians of two ways of doing the same, run in turn, so that a slow moment of the machine slows down both. */
async function inTurn(ours: () => unknown, theirs: () => Promise<unknown>): Promise<[number, number]> {
  const times: [number[], number[]] = [[], []];
  for (let run = 0; run <= RUNS; run++)
    for (const [k, work] of [ours, theirs].entries()) {
      const started = performance.now();
      await work();
      // The first run compiles.
      if (run > 0) times[k]!.push(performance.now() - started);
    }
  return [median(times[0]), median(times[1])];
}

function noise(side: number): Plane {
  const random = seededRandom(5);
  const plane = makePlane(side, side);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.next();
  return plane;
}

/** A picture of libvips with the same values. */
function asPicture(planes: readonly Plane[]): () => Sharp {
  const [{ widthPx: width, heightPx: height }] = planes as [Plane];
  const channels = planes.length as 1 | 3;
  const data = new Uint16Array(width * height * channels);
  for (const [c, { data: from }] of planes.entries())
    for (let i = 0; i < from.length; i++) data[channels * i + c] = 65535 * from[i]!;
  const raw = { width, height, channels };
  return () => sharp(data, { raw }).pipelineColourspace(channels === 1 ? 'grey16' : 'rgb16');
}
const done = (picture: Sharp) => picture.raw({ depth: 'ushort' }).toBuffer();

export async function benchKernels(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  sharp.concurrency(1);
  sharp.cache(false);
  const plane = noise(SIDE);
  const picture = asPicture([plane]);
  const say = (what: string, [ours, theirs]: [number, number]) =>
    print(
      `${what}: ours / libvips, one thread, medians of ${RUNS} runs in turn`,
      `${ours.toFixed(0)} / ${theirs.toFixed(0)} ms: × ${(ours / theirs).toFixed(2)}`,
      '× 1.5',
    );
  for (const sigma of [1, 2, 8, 40])
    say(
      `blur, σ ${sigma} px, one plane of ${SIDE}²`,
      await inTurn(
        () => blurWrapped(plane, sigma, sigma),
        () => done(picture().blur(sigma)),
      ),
    );
  for (const [name, side] of [
    ['shrinking', 900],
    ['enlarging', 3000],
  ] as const) {
    const step = SIDE / side;
    say(
      `${name} one plane of ${SIDE}² to ${side}², cubic`,
      await inTurn(
        () => resample(plane, { leftPx: 0, topPx: 0, stepX: step, stepY: step }, side, side),
        () => done(picture().resize(side, side, { kernel: 'cubic' })),
      ),
    );
  }
  await benchWarp(plane, say);
}

/** A picture turned by 5° and stretched a little: one pixel for another. */
async function benchWarp(plane: Plane, say: (what: string, times: [number, number]) => void): Promise<void> {
  const { data } = plane;
  const colour: ColourPicture = { widthPx: SIDE, heightPx: SIDE, r: data, g: data, b: data };
  const [cos, sin] = [Math.cos(0.0873), Math.sin(0.0873)];
  const at = (x: number, y: number): [number, number] => [
    0.5 + 0.8 * (cos * x - sin * y),
    0.5 + 0.8 * (sin * x + cos * y),
  ];
  const corners: [[number, number], [number, number], [number, number], [number, number]] = [
    at(-0.5, -0.5),
    at(0.5, -0.5),
    at(0.5, 0.5),
    at(-0.5, 0.5),
  ];
  const frame = makeFrame({ widthPx: SIDE, heightPx: SIDE }, { bowLines: [], frame: corners });
  const side = Math.round(0.8 * SIDE);
  const rgb = asPicture([plane, plane, plane]);
  say(
    `straightening a picture of ${SIDE}² to ${side}², three planes, cubic`,
    await inTurn(
      () => warp(colour, 0, frame, side, side),
      () =>
        done(
          rgb()
            .affine([cos, sin, -sin, cos], { interpolator: 'bicubic' })
            .extract({ left: 200, top: 200, width: side, height: side }),
        ),
    ),
  );
}
