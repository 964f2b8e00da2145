import { buildSync } from 'esbuild';
import { Worker } from 'node:worker_threads';
import { ridges, waves } from '../generate/noise';
import { readPixels } from '../photometric/readings';
import { makeColourPicture, makePlane, seededRandom, type Plane } from '../raster';
import { normalsOfHeight, occlusionInSteps, occlusionOfHeight } from '../relief';
import { inTurns } from '../steps';
import { setCrew, setIdleCrew, shareRows, type Crew, type Helper, type RowTask } from '.';

/** A thread that knows every task, as the server has them. */
const THREAD = buildSync({
  stdin: {
    contents: `
      import { parentPort } from 'node:worker_threads';
      import { NOISE_ROWS } from './core/generate/index.ts';
      import { READINGS } from './core/photometric/index.ts';
      import { OCCLUSION } from './core/relief/index.ts';
      import { help } from './core/shared-rows/index.ts';
      parentPort.on('message', (message) => { parentPort.postMessage('heard'); help([NOISE_ROWS, OCCLUSION, READINGS], message); });`,
    resolveDir: process.cwd(),
  },
  bundle: true,
  platform: 'node',
  format: 'cjs',
  write: false,
}).outputFiles[0]!.text;

const workers: Worker[] = [];
/** A helper in a thread of its own, and how many messages it has read. */
function realHelper(): Helper & { heard: number } {
  const worker = new Worker(THREAD, { eval: true });
  const helper = { heard: 0, post: (message: unknown) => worker.postMessage(message) };
  worker.on('message', () => helper.heard++);
  workers.push(worker);
  return helper;
}
const crewOf = (helpers: readonly Helper[]): Crew => ({ gather: () => helpers, rest: () => undefined });

afterEach(async () => {
  setCrew(null);
  await Promise.all(workers.splice(0).map((worker) => worker.terminate()));
});

function rough(widthPx: number, heightPx: number): Plane {
  const plane = makePlane(widthPx, heightPx);
  const random = seededRandom(7);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = random.next();
  return plane;
}
const MM = { x: 0.5, y: 0.5 };
const HEIGHT = rough(421, 512);
const NORMALS = normalsOfHeight(HEIGHT, MM);
const occlusion = () => Buffer.from(occlusionOfHeight(HEIGHT, NORMALS, MM, 9).data.buffer);

test('any number of threads computes the same bits', async () => {
  const alone = occlusion();
  for (const count of [1, 2, 3]) {
    const helpers = Array.from({ length: count }, realHelper);
    setCrew(crewOf(helpers));
    // The first computation may be over before helpers have started.
    while (helpers.some(({ heard }) => heard === 0)) {
      expect(occlusion().equals(alone)).toBe(true);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(occlusion().equals(alone)).toBe(true);
  }
});

test('readings under several lights are the same with and without help', async () => {
  const [w, h] = [200, 160];
  const bumps = rough(w, h);
  const n = normalsOfHeight(bumps, { x: 4, y: 4 });
  const set = [0, 1, 2, 3, 4].map((k) => {
    const turn = (2 * Math.PI * k) / 5;
    const directionTo: [number, number, number] = [Math.cos(turn), Math.sin(turn), 1.2];
    const picture = makeColourPicture(w, h);
    for (let i = 0; i < picture.r.length; i++) {
      const shade = n.x[i]! * directionTo[0] + n.y[i]! * directionTo[1] + n.z[i]! * directionTo[2];
      picture.r[i] = picture.g[i] = picture.b[i] = 0.25 * Math.max(0, shade);
    }
    return { picture, light: { directionTo } };
  });
  const lights = { gains: [1, 1.1, 0.9, 1, 1], lobes: [{ alpha: 0.4, share: 0.1 }], cameraMm: 4000 };
  const read = async () => {
    const { x, colour, residual, ofLights } = await readPixels(
      set,
      lights,
      { x: 4, y: 4 },
      null,
      async () => {},
    );
    const bits = [x.data, colour.r, residual.data].map((data) => Buffer.from(data.buffer).toString('base64'));
    return { bits, ofLights };
  };
  const alone = await read();
  const helper = realHelper();
  setCrew(crewOf([helper]));
  while (helper.heard === 0) {
    expect(await read()).toEqual(alone);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  expect(await read()).toEqual(alone);
});

test('rows of noise are the same with and without help, in any order', async () => {
  const ground = { sizeMm: { width: 300, height: 200 }, px: { width: 2048, height: 1100 } };
  const noise = { cellMm: { x: 11, y: 7 }, octaves: 3, seed: 5 };
  const rows = () => {
    const [wave, ridge] = [waves(ground, noise), ridges(ground, noise)];
    return [0, 1, 2, 700, 699, 1099, 3].map((y) => [...wave.row(y).slice(), ...ridge.row(y).slice()]);
  };
  const alone = rows();
  const helper = realHelper();
  setCrew(crewOf([helper]));
  while (helper.heard === 0) {
    expect(rows()).toEqual(alone);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  expect(rows()).toEqual(alone);
});

test('a helper that never begins, or does not know the task, keeps nothing waiting', async () => {
  const alone = occlusion();
  const silent: Helper = { post: () => undefined };
  const ignorant: Helper = {
    post: (message) => new Int32Array(message.control).fill(4, 0, 1), // as `help` says that it failed
  };
  setCrew(crewOf([silent, ignorant]));
  expect(occlusion().equals(alone)).toBe(true);
});

test('a waiting thread that is woken too early waits on', async () => {
  const alone = occlusion();
  const helper = realHelper();
  // Notifies of what has not happened, as a thread does that is interrupted between a step and its notification.
  const waker = new Worker(
    `const { parentPort } = require('node:worker_threads');
     parentPort.on('message', (control) => {
       const numbers = new Int32Array(control);
       while (Atomics.load(numbers, 0) !== 5) Atomics.notify(numbers, 0);
     });`,
    { eval: true },
  );
  workers.push(waker);
  setCrew(
    crewOf([
      {
        post(message) {
          waker.postMessage(message.control);
          helper.post(message);
        },
      },
    ]),
  );
  for (let k = 0; k < 30 || helper.heard < 10; k++) {
    expect(occlusion().equals(alone)).toBe(true);
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
});

test('work that is stopped leaves helpers free for the next', async () => {
  const alone = occlusion();
  setCrew(crewOf([realHelper()]));
  for (const after of [0, 1, 5]) {
    const steps = occlusionInSteps(HEIGHT, NORMALS, MM, 9);
    for (let k = 0; k <= after; k++) steps.next();
    steps.return(makePlane(1, 1));
    expect(occlusion().equals(alone)).toBe(true);
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
});

test('what runs between two steps of helped work is done alone, and both are right', () => {
  const alone = occlusion();
  setCrew(crewOf([realHelper()]));
  const first = occlusionInSteps(HEIGHT, NORMALS, MM, 9);
  first.next();
  expect(occlusion().equals(alone)).toBe(true);
  let last = first.next();
  while (!last.done) last = first.next();
  expect(Buffer.from(last.value.data.buffer).equals(alone)).toBe(true);
});

test('a fault in a task reaches whoever asked', async () => {
  const faulty: RowTask<null, Record<string, never>, Record<string, never>, { out: Float32Array }> = {
    name: 'occlusion',
    begin: () => () => {
      throw new RangeError('This row cannot be computed.');
    },
  };
  const work = { settings: null, whole: {}, byRow: {}, out: { out: new Float32Array(1 << 18) }, rows: 256 };
  await expect(inTurns(shareRows(faulty, work), async () => undefined)).rejects.toThrow('cannot be computed');
  setCrew(crewOf([{ post: () => undefined }]));
  await expect(inTurns(shareRows(faulty, work), async () => undefined)).rejects.toThrow('cannot be computed');
});

test('threads are started when they are first needed, used again, and end when they are idle', () => {
  let started = 0;
  let ended = 0;
  let lose = (): void => undefined;
  const timers = new Set<() => void>();
  const run = () => [...timers].forEach((timer) => (timers.delete(timer), timer()));
  setIdleCrew(
    2,
    (lost) => {
      started++;
      lose = lost;
      return { post: () => undefined, end: () => void ended++ };
    },
    (_ms, timer) => {
      timers.add(timer);
      return () => void timers.delete(timer);
    },
  );
  expect(started).toBe(0);
  // Nobody answers, so all of it is computed here.
  const alone = occlusion();
  expect(started).toBe(2);
  expect(timers.size).toBe(1);
  expect(occlusion().equals(alone)).toBe(true);
  expect([started, ended, timers.size]).toEqual([2, 0, 1]);
  run();
  expect(ended).toBe(2);
  occlusion();
  expect(started).toBe(4);
  lose();
  expect(ended).toBe(4);
  occlusion();
  expect(started).toBe(6);
});
