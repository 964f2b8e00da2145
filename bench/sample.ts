import sharp from 'sharp';
import { grain } from '../server/test/pictures';
import type { TestServer } from '../server/test/serve';
import { UNTOUCHED_SAMPLE } from '@jossel/core/sample';

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
    ...UNTOUCHED_SAMPLE,
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
