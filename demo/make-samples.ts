import { mkdirSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { capture } from '../standins/capture/capture';
import { cameraJpeg } from '../standins/encode';
import { benchSample } from '../standins/capture/samples';
import { CAREFUL_RIG, captureUnderLights, RIG_FOCAL_MM } from '../standins/light-rig/rig';
import { surfaceOf } from '../standins/physical/surface';
import { DEMO_CAPTURES } from './captures';
import { DEMO_LIGHT_SETS } from './light-sets';
import { photograph } from './photograph';
import { DEMO_SAMPLES } from './samples';

/** Makes the demo studio's sample pictures into demo/samples: make-samples [PART-OF-NAME]. */
const wanted = process.argv[2] ?? '';
mkdirSync('demo/samples', { recursive: true });
for (const sample of DEMO_SAMPLES.filter((s) => s.file.includes(wanted))) {
  const started = Date.now();
  const { widthPx, heightPx, pixels } = photograph(await sample.sample.make(sample.pxPerMm), sample.camera);
  const jpeg = await sharp(pixels, { raw: { width: widthPx, height: heightPx, channels: 3 } })
    .jpeg({ quality: sample.quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
  writeFileSync(`demo/samples/${sample.file}`, jpeg);
  console.log(
    `${sample.file}: ${widthPx} × ${heightPx} px, ${(jpeg.length / 1024).toFixed(0)} kB, ${((Date.now() - started) / 1000).toFixed(1)} s`,
  );
}
for (const { file, settings } of DEMO_CAPTURES.filter((c) => c.file.includes(wanted))) {
  writeFileSync(
    `demo/samples/${file}`,
    await cameraJpeg((await capture(settings))!.picture, settings.focalMm, 88),
  );
  console.log(file);
}
for (const { files, rig } of DEMO_LIGHT_SETS.filter((l) => l.files.includes(wanted))) {
  const { sampleId, ...settings } = rig;
  const sample = benchSample(sampleId)!;
  const surface = await surfaceOf(sampleId, sample, sample.pxPerMm);
  const { shots } = captureUnderLights(surface, { ...CAREFUL_RIG, ...settings });
  const lights = shots.map(({ positionMm, strength }, k) => ({
    file: `${files}-${k + 1}.jpg`,
    positionMm: positionMm.map((mm) => Math.round(mm * 10) / 10),
    strength,
  }));
  for (const [k, { picture }] of shots.entries())
    writeFileSync(`demo/samples/${lights[k]!.file}`, await cameraJpeg(picture, RIG_FOCAL_MM, 90));
  writeFileSync(`demo/samples/${files}.json`, `${JSON.stringify(lights, null, 2)}\n`);
  console.log(files);
}
