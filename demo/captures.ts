import { captureSchema, type CaptureSettings } from '../standins/capture/capture';

/** Pictures of the demo studio that were taken on the capture bench, at an angle, with card and ruler. */
export const DEMO_CAPTURES: readonly { file: string; settings: CaptureSettings }[] = [
  {
    file: 'oak-strips-on-the-bench.jpg',
    settings: captureSchema.parse({
      sampleId: 'boards-oak',
      widthPx: 1800,
      tiltDeg: 17,
      panDeg: 13,
      rollDeg: 2,
      unevenness: 0.15,
      ruler: true,
      seed: 5,
    }),
  },
  {
    // By the evening lamp: yellow, and falling off by four tenths.
    file: 'moss-tiles-by-lamplight.jpg',
    settings: captureSchema.parse({
      sampleId: 'tile-moss',
      widthPx: 1600,
      tiltDeg: 8,
      panDeg: -6,
      rollDeg: 1,
      unevenness: 0.45,
      cast: 0.7,
      exposure: -0.4,
      seed: 9,
    }),
  },
];
