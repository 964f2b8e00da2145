import { generatedRecipe, type EncodedMap, type MapName, type RenderReport } from '@jossel/core/finish';
import sharp from 'sharp';
import { Panel } from './panel';
import { writePng } from './png';

const map = (name: MapName, channels: 1 | 3, ...data: number[]): EncodedMap => ({
  name,
  widthPx: 2,
  heightPx: 1,
  channels,
  bitDepth: 8,
  colourSpace: name === 'colour' ? 'srgb' : 'data',
  data: Uint8Array.from(data),
});

/** Pixels of the pictures within a glb, by their channels. */
async function picturesOf(glb: Uint8Array): Promise<number[][]> {
  const buffer = Buffer.from(glb);
  const jsonBytes = buffer.readUInt32LE(12);
  const { images, bufferViews } = JSON.parse(buffer.subarray(20, 20 + jsonBytes).toString()) as {
    images: { bufferView: number }[];
    bufferViews: { byteOffset?: number; byteLength: number }[];
  };
  return Promise.all(
    images.map(async ({ bufferView }) => {
      const { byteOffset = 0, byteLength } = bufferViews[bufferView]!;
      const from = 28 + jsonBytes + byteOffset;
      return [
        ...(await sharp(buffer.subarray(from, from + byteLength))
          .raw()
          .toBuffer()),
      ];
    }),
  );
}

test('occlusion, roughness and metalness become the channels of one picture, in whatever order they come', async () => {
  const panel = new Panel(generatedRecipe('plaster', {}).response);
  panel.take(map('metalness', 1, 5, 6));
  panel.take(map('occlusion', 1, 1, 2));
  panel.take(map('roughness', 1, 3, 4));
  const colour = map('colour', 3, 10, 20, 30, 40, 50, 60);
  panel.take(colour);
  const report = { repeatMm: { width: 200, height: 100 }, meanLab: [50, 0, 0] } as unknown as RenderReport;
  const normal = await writePng(map('normal', 3, 128, 128, 255, 120, 130, 250));
  const glb = await panel.glb({ name: 'wall A', extras: {} }, report, await writePng(colour), normal);
  const pictures = await picturesOf(glb);
  expect(pictures).toHaveLength(3);
  expect(pictures).toEqual(
    expect.arrayContaining([
      [1, 3, 5, 2, 4, 6],
      [10, 20, 30, 40, 50, 60],
      [128, 128, 255, 120, 130, 250],
    ]),
  );
});
