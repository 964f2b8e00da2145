import sharp from 'sharp';
import { laidScene } from '../standins/laid/scenes';
import { labPlanes, segmentedByJoints } from '../core/repeat/pieces/segment';
import { linearToSrgbBytes } from '@jossel/core/colour';
import { mapChannels, resample } from '../core/raster';
const names = process.argv.slice(2);
const tiles: any[] = [];
for (const nv of names) {
  const [name, v] = nv.split(':');
  const { picture: big, laying } = laidScene(name!, Number(v));
  const k = 420 / 632; const [w, h] = [420, Math.round(big.heightPx * k)];
  const picture = mapChannels(big, (p) => resample(p, { leftPx: 0, topPx: 0, stepX: big.widthPx / w, stepY: big.heightPx / h }, w, h));
  const t = performance.now();
  const lab = labPlanes(picture);
  const r = segmentedByJoints(lab, [0.012, 0.025, 0.05, 0.1].map((s) => s * h));
  if (!r) { console.log(nv, 'no joints', (performance.now() - t).toFixed(0)); continue; }
  const { look, pieces: s } = r;
  console.log(nv, JSON.stringify(look), s.pieces.length, 'whole', s.pieces.filter((p) => !p.cutOff).length, (performance.now() - t).toFixed(0), 'ms', s.pieces.filter((p) => !p.cutOff).map((p) => p.areaPx).sort((a, b) => a - b).filter((_, i, a) => i % Math.ceil(a.length / 9) === 0).join(' '));
  const bytes = linearToSrgbBytes(picture, 3); const out = Buffer.alloc(w * h * 3);
  for (let i = 0; i < w * h; i++) { const l = s.label[i]!; for (let c = 0; c < 3; c++) out[3 * i + c] = l < 0 ? 0 : Math.round(0.35 * bytes[3 * i + c]! + 0.65 * (((l * [67, 131, 197][c]!) % 200) + 50)); }
  tiles.push({ input: await sharp(Buffer.from(bytes), { raw: { width: w, height: h, channels: 3 } }).png().toBuffer() }, { input: await sharp(out, { raw: { width: w, height: h, channels: 3 } }).png().toBuffer() });
}
const rows = Math.ceil(tiles.length / 4);
await sharp({ create: { width: 4 * 424, height: rows * 320, channels: 3, background: '#fff' } }).composite(tiles.map((t, i) => ({ ...t, left: (i % 4) * 424, top: Math.floor(i / 4) * 320 }))).png().toFile('/tmp/seg.png');
