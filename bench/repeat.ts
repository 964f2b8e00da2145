import { limestone, rgb } from '@jossel/core/generate';
import { halve, mapChannels } from '@jossel/core/raster';
import { applyPlacement, cellsOf, compose, evenOut, learnBlendSpace, seamFigures } from '@jossel/core/repeat';

/** Composing a repeat of 1024² px from a sample of 1024² px, and applying its placement at 4096² to three maps. */
export function benchRepeat(print: (what: string, value: string, reach?: string) => void): void {
  const { colour } = limestone({
    widthMm: 600,
    heightMm: 600,
    pxPerMm: 1024 / 600,
    seed: 5,
    pale: rgb('#c3b69d'),
    dark: rgb('#a08f72'),
    rust: rgb('#a9844f'),
    shellsPerM2: 900,
  });
  const small = mapChannels(colour, halve);
  const repeatMm = { width: 600, height: 600 };
  const times: number[] = [];
  const coarse: number[] = [];
  let seam = { acrossWidth: 0, acrossHeight: 0 };
  let copies = 0;
  let cells!: ReturnType<typeof cellsOf>;
  const at = (px: number) => ({ x: px / 600, y: px / 600 });
  for (let turn = 0; turn < 3; turn++) {
    const started = performance.now();
    const steps = compose({
      sources: [{ picture: small, keptOut: null, held: null }],
      widthPx: 512,
      heightPx: 512,
      closed: { across: true, up: true },
      turns: [{ quarters: 0, flipped: false }],
      seed: 1 + turn,
      patchPx: { w: 215, h: 215 },
    });
    let next = steps.next();
    while (!next.done) {
      if (coarse.length === turn && next.value.soFar) coarse.push(performance.now() - started);
      next = steps.next();
    }
    cells = cellsOf(next.value, repeatMm, [at(512)]);
    copies = cells.placements.length;
    const evened = evenOut(cells, repeatMm, [{ picture: small, pxPerMm: at(512) }], 51);
    const repeat = applyPlacement(
      { repeatMm, layers: [], cells },
      [{ picture: colour, pxPerMm: at(1024) }],
      1024,
      1024,
      learnBlendSpace(small),
      evened,
    );
    times.push(performance.now() - started);
    seam = seamFigures(repeat);
  }
  const middle = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
  print('composing 1024² from a 1024² sample, one thread', `${(middle(times) / 1000).toFixed(1)} s`, '≤ 6 s');
  print('… of it until everything is covered once', `${(middle(coarse) / 1000).toFixed(1)} s`);
  print(
    '… seam across and up, copies',
    `${seam.acrossWidth.toFixed(2)}, ${seam.acrossHeight.toFixed(2)}, ${copies}`,
    '0.90–1.10',
  );
  const big = { picture: mapChannels(colour, (plane) => enlarged(plane)), pxPerMm: at(4096) };
  const space = learnBlendSpace(small);
  const started = performance.now();
  for (let k = 0; k < 3; k++) applyPlacement({ repeatMm, layers: [], cells }, [big], 4096, 4096, space);
  print(
    'applying a placement map at 4096² to three maps',
    `${((performance.now() - started) / 1000).toFixed(1)} s`,
    '≤ 6 s',
  );
}

function enlarged({ widthPx, heightPx, data }: { widthPx: number; heightPx: number; data: Float32Array }) {
  const out = new Float32Array(16 * data.length);
  for (let y = 0; y < 4 * heightPx; y++)
    for (let x = 0; x < 4 * widthPx; x++) out[y * 4 * widthPx + x] = data[(y >> 2) * widthPx + (x >> 2)]!;
  return { widthPx: 4 * widthPx, heightPx: 4 * heightPx, data: out };
}
