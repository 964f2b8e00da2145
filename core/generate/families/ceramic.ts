import { power } from '../../exact';
import { smoothstep } from '../../raster';
import { rgbOf, type Canvas } from '../canvas';
import { cellsAt } from '../noise';
import { family } from '../family';
import { choice, colour, size, type ValuesOf } from '../setting';

/** Fired clay: a glaze over a body, or the bare face. */

const glazeSettings = {
  glaze: colour('Glaze', [52, -22, -6], 'where it is of its usual thickness'),
  body: colour('Body', [82, 3, 12], 'of the clay under it'),
  thickMm: size('Glaze thickness', 'mm', [0.35, 0.05, 2], 'mean thickness'),
  unevenPercent: size(
    'Unevenness',
    '%',
    [35, 0, 100],
    'how much the thickness varies: thin is pale, thick is deep',
  ),
  waveMm: size('Waves', 'mm', [32, 5, 200], 'from one swell of the surface to the next'),
  waveDepthMm: size('Depth of the waves', 'mm', [0.08, 0, 1], 'from trough to crest'),
  specksPerM2: size('Specks', '1/m²', [4000, 0, 400000], 'dark iron specks'),
  pinholesPerM2: size('Pinholes', '1/m²', [900, 0, 100000], 'burst bubbles in the glaze'),
  crazingMm: size('Crazing', 'mm', [0, 0, 60], 'from one hairline crack to the next; 0: none'),
  matt: choice(
    'Surface',
    { glossy: 'glossy', satin: 'satin', reactive: 'reactive, with runs' },
    'of the glaze',
  ),
} as const;

export const GLAZE = family({
  kind: 'glaze',
  name: 'Glazed ceramic',
  group: 'Mineral',
  category: 'ceramic',
  repeatMm: { width: 600, height: 600 },
  settings: glazeSettings,
  headline: ['glaze', 'body', 'matt', 'unevenPercent', 'waveMm', 'specksPerM2'],
  response: { base: 'dielectric', glossGu: 82 },
  parts: () => [
    { id: 'thin', name: 'Thin glaze' },
    { id: 'crack', name: 'Crazing' },
  ],
  paint: paintGlaze,
});

async function paintGlaze(canvas: Canvas, values: ValuesOf<typeof glazeSettings>): Promise<void> {
  const { px, sizeMm } = canvas;
  const [glaze, body] = [rgbOf(values.glaze.lab), rgbOf(values.body.lab)];
  const wave = canvas.waves(1, 0.5 * values.waveMm.value, 2, 0.4);
  const broad = canvas.waves(2, 2.2 * values.waveMm.value, 3, 0.55);
  const mottle = canvas.waves(3, 5, 4, 0.65);
  const run = canvas.waves(4, { x: 6, y: 60 }, 4, 0.6);
  const micro = canvas.waves(5, 0.5, 2, 0.8);
  const [thinPart, crackPart] = [canvas.part('thin'), canvas.part('crack')];
  const reactive = values.matt === 'reactive' ? 1 : 0;
  const uneven = values.unevenPercent.value / 100;
  const crazed = values.crazingMm.value;
  const [nx, ny] = [
    Math.max(3, Math.round(sizeMm.width / Math.max(1, crazed))),
    Math.max(3, Math.round(sizeMm.height / Math.max(1, crazed))),
  ];
  const net = cellsAt(nx, ny, 1, canvas.seed + 3);
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  const crack = canvas.waves(6, 3, 3, 0.6);
  const ratio = [0, 1, 2].map((c) => Math.log(body[c]! / Math.min(0.98 * body[c]!, glaze[c]!)));
  await canvas.rows((y, first) => {
    const [waves_, broads, mottles, runs, micros, cracks] = [
      wave.row(y),
      broad.row(y),
      mottle.row(y),
      run.row(y),
      micro.row(y),
      crack.row(y),
    ];
    for (let x = 0; x < px.width; x++) {
      const i = first + x;
      // The surface is level where it flowed; what lies under it is not: hollows of the body hold more glaze.
      const under = 0.6 * broads[x]! + 0.55 * mottles[x]! * (1 + reactive) + reactive * 0.9 * runs[x]!;
      const deep = Math.max(0.12, 1 + uneven * (0.75 * under - 0.35 * waves_[x]!));
      for (let c = 0; c < 3; c++) {
        // Light passes down and back through coloured glass (Beer); glaze of the mean thickness has the colour that was given.
        const seen = body[c]! * Math.exp(-deep * ratio[c]!);
        const plane = c === 0 ? canvas.colour.r : c === 1 ? canvas.colour.g : canvas.colour.b;
        plane[i] = seen * (1 + 0.012 * micros[x]!);
      }
      thinPart[i] = smoothstep(0.85, 0.45, deep);
      canvas.height.data[i] =
        values.waveDepthMm.value * 0.7 * waves_[x]! +
        0.3 * values.waveDepthMm.value * broads[x]! +
        (values.matt === 'satin' ? 0.002 * micros[x]! : 0.0006 * micros[x]!);
      canvas.gloss.data[i] = -3 * Math.abs(mottles[x]!) * (1 + reactive) - 14 * thinPart[i]!;
      if (crazed > 0) {
        const { edge } = net(
          (x + 0.5) / px.width + (0.16 * crazed * cracks[x]!) / sizeMm.width,
          (y + 0.5) / px.height + (0.12 * crazed * runs[x]!) / sizeMm.height,
        );
        const line = 1 - smoothstep(0.02, 0.05 + 0.7 * pixel, edge * crazed);
        crackPart[i] = line;
        canvas.tone(i, 1 - 0.32 * line * Math.min(1, 0.2 / pixel + 0.1));
        canvas.height.data[i]! -= 0.01 * line;
      }
    }
  });
  await dots(canvas, values.specksPerM2.value, 1, [0.08, 0.45], (i, share) =>
    canvas.tone(i, 1 - 0.62 * share),
  );
  await dots(canvas, values.pinholesPerM2.value, 2, [0.08, 0.3], (i, share, deep) => {
    canvas.over(i, [0.8 * body[0], 0.8 * body[1], 0.8 * body[2]], 0.5 * share);
    canvas.height.data[i]! -= values.thickMm.value * share * deep;
    canvas.gloss.data[i]! -= 45 * share;
  });
}

/** Round dots of many sizes, most of them small. */
async function dots(
  canvas: Canvas,
  perM2: number,
  salt: number,
  [least, most]: readonly [number, number],
  visit: (i: number, share: number, deep: number) => void,
): Promise<void> {
  const { width, height } = canvas.sizeMm;
  const count = Math.round((perM2 * width * height) / 1e6);
  const pixel = Math.max(canvas.mm.x, canvas.mm.y);
  await canvas.scatter(count, 'dots', canvas.seed * 5 + salt, (random) => {
    const t = random.next();
    const radius = least + (most - least) * t * t * t;
    // Dots finer than a pixel are seen fainter, not larger.
    const faint = Math.min(1, (radius / (0.56 * pixel)) * (radius / (0.56 * pixel)));
    canvas.around(
      random.next() * width,
      random.next() * height,
      radius + pixel,
      radius + pixel,
      (i, dx, dy) => {
        const d = Math.hypot(dx, dy);
        const share = Math.min(1, Math.max(0, 0.5 + (radius - d) / pixel)) * faint;
        if (share > 0) visit(i, share, Math.max(0, 1 - d / radius));
      },
    );
  });
}

const claySettings = {
  clay: colour('Clay', [48, 24, 26], 'mean colour of the fired face'),
  burnt: colour('Fire marks', [34, 16, 15], 'where the fire was hottest'),
  firePercent: size('Fire marks', '%', [25, 0, 100], 'how strongly they show'),
  face: choice(
    'Face',
    { moulded: 'hand-moulded', wire: 'wire-cut', dragged: 'drag-faced', smooth: 'smooth' },
    'how it was shaped',
  ),
  reliefMm: size('Relief of the face', 'mm', [0.7, 0, 5], 'creases, drags or wire marks'),
  sandMm: size('Sand', 'mm', [0.5, 0.05, 3], 'grain of the sand in and on it'),
  bloomPercent: size('Salt bloom', '%', [10, 0, 100], 'white haze of salts'),
} as const;

export const CLAY = family({
  kind: 'clay',
  name: 'Brick and clay',
  group: 'Mineral',
  category: 'brick',
  repeatMm: { width: 900, height: 900 },
  settings: claySettings,
  headline: ['clay', 'burnt', 'firePercent', 'face', 'reliefMm', 'sandMm'],
  response: { base: 'dielectric', glossGu: 3.5 },
  parts: () => [{ id: 'bloom', name: 'Salt bloom' }],
  paint: paintClay,
});

async function paintClay(canvas: Canvas, values: ValuesOf<typeof claySettings>): Promise<void> {
  const [clay, burnt] = [rgbOf(values.clay.lab), rgbOf(values.burnt.lab)];
  const fire = canvas.waves(1, { x: 150, y: 55 }, 5, 0.6);
  const body = canvas.waves(2, 14, 4, 0.65);
  const sand = canvas.waves(3, values.sandMm.value, 2, 0.85);
  const coarse = canvas.waves(4, 4 * values.sandMm.value, 3, 0.7);
  const crease = canvas.ridges(5, { x: 42, y: 22 }, 3, 0.5);
  const drag = canvas.waves(6, { x: 90, y: 1.3 }, 3, 0.75);
  const wire = canvas.waves(7, { x: 2.4, y: 55 }, 3, 0.7);
  const bloom = canvas.waves(8, 75, 5, 0.62);
  const bloomPart = canvas.part('bloom');
  const [fires, blooms] = [values.firePercent.value / 100, values.bloomPercent.value / 100];
  await canvas.rows((y, first) => {
    const rows = [fire, body, sand, coarse, crease, drag, wire, bloom].map((r) => r.row(y)) as Float32Array[];
    const [f, b, s, c, k, d, w, m] = rows as [
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (let x = 0; x < canvas.px.width; x++) {
      const i = first + x;
      const fold = values.face === 'moulded' ? power(smoothstep(0.62, 0.98, k[x]!), 1.4) : 0;
      const lines = values.face === 'dragged' ? d[x]! : values.face === 'wire' ? w[x]! : 0;
      const torn = values.face === 'wire' ? smoothstep(0.45, 0.85, c[x]! + 0.3 * w[x]!) : 0;
      const hot = fires * smoothstep(-0.15, 0.75, f[x]! + 0.25 * b[x]!);
      canvas.mix(
        i,
        clay,
        burnt,
        hot,
        1 + 0.09 * s[x]! + 0.08 * c[x]! + 0.07 * b[x]! - 0.2 * fold + 0.05 * lines - 0.18 * torn,
      );
      const salt = blooms * smoothstep(0.1, 0.8, m[x]! + 0.35 * c[x]! - 0.5 * fold);
      bloomPart[i] = salt;
      if (salt > 0) canvas.over(i, [0.72, 0.7, 0.66], 0.6 * salt);
      const relief = values.reliefMm.value;
      canvas.height.data[i] =
        values.sandMm.value * (0.2 * s[x]! + 0.3 * c[x]!) * (values.face === 'smooth' ? 0.25 : 1) +
        relief * (0.3 * b[x]! - 0.8 * fold + 0.45 * lines - 0.6 * torn);
      canvas.gloss.data[i] = 1.6 * hot - 1.2 * salt + 0.5 * s[x]!;
    }
  });
  // Pebbles burnt out and stones of lime.
  await dots(canvas, 160, 9, [0.6, 2.6], (i, share, deep) => {
    canvas.tone(i, 1 - 0.35 * share);
    canvas.height.data[i]! -= 0.9 * share * (0.3 + deep);
  });
}
