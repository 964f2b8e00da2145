import sharp from 'sharp';
import { linearToSrgb } from '@jossel/core/colour';
import { MANY_FINISHES } from '../standins/many-finishes';
for (const f of MANY_FINISHES) {
  if (!process.argv.slice(2).includes(f.name)) continue;
  const { picture: c } = f.picture(1200);
  const b = Buffer.alloc(c.widthPx * c.heightPx * 3);
  for (let i = 0; i < c.r.length; i++) (['r', 'g', 'b'] as const).forEach((k, j) => (b[i * 3 + j] = Math.round(255 * linearToSrgb(Math.min(1, Math.max(0, c[k][i]!))))));
  await sharp(b, { raw: { width: c.widthPx, height: c.heightPx, channels: 3 } }).png().toFile(`/tmp/s-${f.name.replace(' ', '')}.png`);
}
