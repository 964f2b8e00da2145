import { mkdirSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { capture } from '../standins/capture/capture';
import { cameraJpeg } from '../standins/encode';
import { DEMO_CAPTURES } from './captures';
import { photograph } from './photograph';
import { DEMO_SAMPLES } from './samples';

/** Makes the demo studio's sample pictures into demo/samples: make-samples [PART-OF-NAME]. */
const wanted = process.argv[2] ?? '';
mkdirSync('demo/samples', { recursive: true });
for (const sample of DEMO_SAMPLES.filter((s) => s.file.includes(wanted))) {
  const started = Date.now();
  const { widthPx, heightPx, pixels } = photograph(sample.make(), sample.camera);
  const jpeg = await sharp(pixels, { raw: { width: widthPx, height: heightPx, channels: 3 } })
    .jpeg({ quality: sample.quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
  writeFileSync(`demo/samples/${sample.file}`, jpeg);
  console.log(
    `${sample.file}: ${widthPx} × ${heightPx} px, ${(jpeg.length / 1024).toFixed(0)} kB, ${((Date.now() - started) / 1000).toFixed(1)} s`,
  );
}
for (const { file, settings } of DEMO_CAPTURES.filter((c) => c.file.includes(wanted))) {
  writeFileSync(`demo/samples/${file}`, await cameraJpeg(capture(settings)!.picture, settings.focalMm, 88));
  console.log(file);
}
