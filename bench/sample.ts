import sharp from 'sharp';
import { grain } from '../server/test/pictures';
import type { TestServer } from '../server/test/serve';
import { seededRandom, type ColourPicture } from '@jossel/core/raster';
import { unprepared } from '@jossel/core/sample';
import { adviceForRepeat, defaultRecipe, lead, piecesOfFinish, renderFinish } from '@jossel/core/finish';
import { findStructure, sizeKnownBy } from '@jossel/core/size';
import { StageCache } from '@jossel/core/surface';
import { figure } from '@jossel/core/units';
import { sourcesOf } from './many';
import { findCard } from '@jossel/core/straighten';
import { capture, captureSchema } from '../standins/capture/capture';
import { BENCH_SAMPLES } from '../standins/capture/samples';
import { lightFigures, type LightFigures } from '../standins/known-light';
import { KNOWN_STRUCTURES } from '../standins/known-structures';
import { judge } from '../standins/laid/judged';
import { photographedAskew, SAMPLES_ASKEW } from '../standins/laid/askew';
import { laidScene, SCENE_NAMES } from '../standins/laid/scenes';

/** Straightening on the server: 12 megapixels, decoded once before; the time is that of the straightening itself. */
export async function benchStraighten(
  server: TestServer,
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  const tile = await sharp(grain(1000, 750), { raw: { width: 1000, height: 750, channels: 3 } })
    .resize(4000, 3000)
    .jpeg({ quality: 90 })
    .toBuffer();
  const sample = await server.upload('twelve.jpg', tile);
  const settings = {
    ...unprepared(),
    frame: [
      [0.02, 0.03],
      [0.98, 0.01],
      [0.97, 0.99],
      [0.03, 0.96],
    ],
  };
  const times: { whole: number; alone: number }[] = [];
  let pixels = 0;
  for (let turn = 0; turn < 5; turn++) {
    const started = performance.now();
    const response = await fetch(
      `${server.url}/api/samples/${sample.body.id}/straightened.png?widthPx=4000`,
      {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(settings),
      },
    );
    const meta = await sharp(Buffer.from(await response.arrayBuffer())).metadata();
    pixels = meta.width! * meta.height!;
    times.push({
      whole: performance.now() - started,
      alone: Number(/dur=(\d+)/.exec(response.headers.get('server-timing') ?? '')?.[1]),
    });
  }
  const median = (of: (t: (typeof times)[number]) => number) =>
    times
      .slice(1)
      .map(of)
      .sort((a, b) => a - b)[2]!;
  print(
    `straightening ${(pixels / 1e6).toFixed(1)} MP on the server, two threads`,
    `${(median((t) => t.alone) / 1000).toFixed(2)} s (as PNG over HTTP ${(median((t) => t.whole) / 1000).toFixed(1)} s)`,
    '≤ 1.5 s',
  );
}

/** Sixty pictures of laid pieces, woven cloth and stones, photographed askew: the lattice, and how it is straightened. */
export function benchLaid(print: (what: string, value: string, reach?: string) => void): void {
  benchLaidAt(print, 632, 4);
  benchLaidAt(print, 3000, 1);
}

function benchLaidAt(
  print: (what: string, value: string, reach?: string) => void,
  widthPx: number,
  versions: number,
): void {
  const judged = [];
  let spent = 0;
  for (const name of SCENE_NAMES)
    for (let version = 0; version < versions; version++) {
      const scene = laidScene(name, version, widthPx);
      const t = performance.now();
      const found = findStructure(scene.picture);
      spent += performance.now() - t;
      judged.push({ name: `${name} ${version}`, ...judge(scene, found) });
    }
  const all = judged.length;
  const wrong = judged.filter((j) => !j.right);
  const figures = (values: readonly (number | null)[]) => {
    const known = values.filter((v) => v !== null).sort((a, b) => a - b);
    return `median ${known[known.length >> 1]!.toFixed(3)}, worst ${known[known.length - 1]!.toFixed(3)}`;
  };
  print(
    `lattice of ${all} pictures of ${widthPx} px seen askew, right or rightly none`,
    `${((100 * (all - wrong.length)) / all).toFixed(0)} % (not: ${wrong.map((j) => j.name).join(', ') || 'none'})`,
    '≥ 95 %',
  );
  print('another lattice than the true one', `${judged.filter((j) => j.misled).length}`, '0');
  print('periods, error in %', figures(judged.map((j) => j.periodOff && 100 * j.periodOff)), '≤ 0.3');
  print(
    'proposed straightening, lean left in degrees',
    figures(judged.map((j) => (j.right ? j.leanDeg : null))),
    '≤ 0.3',
  );
  print(`time each, ${widthPx} px`, `${(spent / all / 1000).toFixed(1)} s`);
}

/** The structure finder on forty samples of each kind, and the target card in pictures up to 35° tilt. */
export async function benchFinding(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  for (const { name, make } of KNOWN_STRUCTURES) {
    let wrong = 0;
    const started = performance.now();
    let spent = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const { sample, right } = make(seed);
      const { colour } = await sample.make(700 / Math.max(sample.widthMm, sample.heightMm));
      const t = performance.now();
      if (!right(findStructure(colour))) wrong++;
      spent += performance.now() - t;
    }
    print(
      `structure of ${name}, 40 samples at 700 px`,
      `${wrong} wrong, ${(spent / 40).toFixed(0)} ms each (${((performance.now() - started) / 1000).toFixed(0)} s with making them)`,
      'at most 2 wrong',
    );
  }
  let [found, off] = [0, 0];
  for (let seed = 1; seed <= 40; seed++) {
    const random = seededRandom(seed);
    const [tilt, towards] = [random.between(0, 35), random.between(0, 2 * Math.PI)];
    const { picture, truth } = (await capture(
      captureSchema.parse({
        sampleId: BENCH_SAMPLES[seed % BENCH_SAMPLES.length]!.id,
        widthPx: 1400,
        tiltDeg: tilt * Math.cos(towards),
        panDeg: tilt * Math.sin(towards),
        rollDeg: random.between(-15, 15),
        focalMm: random.between(28, 85),
        unevenness: random.between(0, 0.5),
        noise: random.between(0, 0.02),
        glare: random.between(0, 0.4),
        seed,
      }),
    ))!;
    const card = findCard(picture);
    if (!card) continue;
    found++;
    off = Math.max(
      off,
      ...card.marks.map((m, i) =>
        Math.hypot((m[0] - truth.cardMarks![i]![0]) * 1400, (m[1] - truth.cardMarks![i]![1]) * 1050),
      ),
    );
  }
  print(
    'target card found, 40 pictures up to 35° tilt',
    `${found} of 40, marks within ${off.toFixed(2)} px`,
    '≥ 95 %',
  );
}

/** Light and colour against the truth of 24 captures. */
export async function benchLight(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  const all: LightFigures[] = [];
  for (let seed = 1; seed <= 24; seed++) {
    const figures = await lightFigures(seed, 1300);
    if (figures) all.push(figures);
  }
  const worst = (of: (f: LightFigures) => number) => Math.max(...all.map((f) => Math.abs(of(f)))).toFixed(2);
  const middle = (of: (f: LightFigures) => number) => {
    const values = all.map((f) => Math.abs(of(f))).sort((a, b) => a - b);
    return values[values.length >> 1]!.toFixed(2);
  };
  const what = `${all.length} captures with a cast and a fall of about 40 %`;
  print(
    `reflectance off the truth, ${what}`,
    `median ${middle((f) => f.lrvOff)}, worst ${worst((f) => f.lrvOff)} LRV`,
    '± 1.0',
  );
  print(
    `mean colour off the truth, ${what}`,
    `median ${middle((f) => f.deltaE)}, worst ${worst((f) => f.deltaE)} ΔE00`,
  );
  print(
    `broad unevenness left, ${what}`,
    `median ${middle((f) => f.unevenAfter)}, worst ${worst((f) => f.unevenAfter)} L* (before: median ${middle((f) => f.unevenBefore)})`,
    '≤ 1.0 L*',
  );
  print(`local contrast changed, ${what}`, `worst ${worst((f) => 100 * f.contrastChange)} %`, '≤ 3 %');
  print(
    `patches that had no part in the fit, ${what}`,
    `mean ${middle((f) => f.patches.mean)}, worst ${worst((f) => f.patches.worst)} ΔE00`,
    'mean ≤ 1.5, worst ≤ 4',
  );
}

/** Layings of pieces, each photographed askew and straightened by its structure: pieces broken as it begins, and as suggested. */
export async function benchPieces(
  print: (what: string, value: string, reach?: string) => void,
): Promise<void> {
  const laid = SCENE_NAMES.filter((n) => !/weave|twill|boards/.test(n)).map((name) => async () => {
    const { picture, shot } = laidScene(name, 1);
    return { name, picture, widthMm: shot.widthMm };
  });
  const askew = Object.entries(SAMPLES_ASKEW).map(([name, make]) => async () => {
    const of = make();
    return { name, picture: await photographedAskew(of, 1000), widthMm: of.widthMm };
  });
  for (const [what, scenes] of [
    ['layings', laid],
    ['samples of generated finishes', askew],
  ] as const) {
    const said: string[] = [];
    let [pieces, broken, spent] = [0, 0, 0];
    for (const scene of scenes) {
      const one = await suggestedForScene(await scene());
      pieces += one.pieces;
      broken += one.broken;
      spent += one.spentMs;
      said.push(one.said);
    }
    print(
      `pieces broken in ${scenes.length} ${what} photographed askew, straightened, as suggested by one press`,
      `${broken} of ${pieces} (${((100 * broken) / pieces).toFixed(1)} %)`,
      '≤ 1 %',
    );
    print('… each, blended as it begins → as suggested', said.join('; '));
    print('… time of one suggestion', `${(spent / scenes.length / 1000).toFixed(1)} s`);
  }
}

async function suggestedForScene({
  name,
  picture,
  widthMm,
}: {
  name: string;
  picture: ColourPicture;
  widthMm: number;
}) {
  const recipe = defaultRecipe(['a'], 'brick', picture);
  const { straighten } = findStructure(picture);
  if (straighten) lead(recipe).preparation.frame = straighten.corners.map((p) => [...p]) as never;
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'measured', 1) }, 'follows');
  const sources = sourcesOf(picture, name);
  const before = await piecesOfFinish(recipe, sources, {});
  const started = performance.now();
  const { settings } = await adviceForRepeat(sources, recipe, { cache: new StageCache() });
  const spentMs = performance.now() - started;
  recipe.repeat = { ...recipe.repeat, ...settings };
  const after = await piecesOfFinish(recipe, sources, {});
  const { report } = await renderFinish(recipe, sources, { widthPx: 400, maps: ['colour'] });
  const of = (judged: typeof after) => (judged ? `${judged.broken.length}/${judged.pieces}` : 'not judged');
  const suggested = report.boards ? `${report.boards.laid} boards laid` : of(after);
  return {
    pieces: after?.pieces ?? report.boards?.laid ?? 0,
    broken: after?.broken.length ?? 0,
    spentMs,
    said: `${name} ${of(before)} → ${suggested}`,
  };
}
