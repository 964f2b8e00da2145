import type { Source } from '../sources';
import {
  hashOf,
  open,
  refusing,
  withTurns,
  type Check,
  type Cost,
  type Pending,
  type RenderContext,
  type Stage,
} from '../surface';
import { printNumber } from '../units';
import { Canvas, type Painted } from './canvas';
import { familyOf } from './families';
import { basesIn } from './setting';
import type { Family, SizeMm } from './family';
import type { GeneratedSettings } from './settings';
import { GENERATE_VERSION } from './version';

/** A finish that is generated, before it has pixels. */
export interface GeneratedSource {
  key: string;
  /** Size on which it closes. */
  sizeMm: SizeMm;
  /** The finish at a number of pixels. */
  painted: (px: SizeMm) => Pending<Painted>;
  /** What that costs. */
  cost: (px: SizeMm) => Cost;
  opens: boolean;
  /** Stretches that pieces can be cut from, mm from the lower left corner; null: from anywhere. */
  faces: ReturnType<NonNullable<Family['faces']>> | null;
  /** Whole periods of a regular structure in it. */
  courses: { across: number; up: number };
  parts: readonly { id: string; name: string }[];
  /** What does not come out as it was asked. */
  checks: () => Promise<Check[]>;
}

/** What a finish is made from: pictures, or what is generated in their place. */
export interface SourcesOrGenerated {
  sources: readonly Source[];
  generated: GeneratedSource | null;
}

/** More pixels than this are not painted to be made fewer again. */
const MOST_EXTRA_PIXELS = 3_000_000;

/** Generates a finish in place of pictures. */
export const generateStage: Stage<GeneratedSettings | null, readonly Source[], SourcesOrGenerated, object> = {
  name: 'generate',
  version: GENERATE_VERSION,
  work: 4,

  run(ctx, settings, sources) {
    return { sources, generated: settings && generatedSource(ctx, settings) };
  },

  async report(_ctx, _settings, { generated }) {
    return { report: {}, checks: generated ? await generated.checks() : [] };
  },
};

/** Size of the repeat that a family closes on. @throws Refusal where it cannot */
export const generatedSizeMm = (settings: GeneratedSettings): SizeMm =>
  refusing('generated', 'generated', () => {
    const { closing } = familyOf(settings.kind);
    return closing ? closing(settings as never, settings.repeatMm) : settings.repeatMm;
  });

/** Stretches of a generated finish that pieces can be cut from, one by one; none: they are cut from anywhere. */
export function leavesOf(settings: GeneratedSettings): NonNullable<GeneratedSource['faces']> {
  try {
    return familyOf(settings.kind).faces?.(settings as never, generatedSizeMm(settings)) ?? [];
  } catch {
    // Settings that cannot be are refused where they are drawn.
    return [];
  }
}

function generatedSource(ctx: RenderContext, settings: GeneratedSettings): GeneratedSource {
  const family = familyOf(settings.kind);
  const sizeMm = generatedSizeMm(settings);
  const key = hashOf('generated', ctx.versionOf(generateStage), settings);
  const solved = solvedOf(ctx, settings, sizeMm);
  return {
    key,
    sizeMm,
    faces: family.faces?.(settings as never, sizeMm) ?? null,
    courses: family.courses?.(settings as never, sizeMm) ?? { across: 1, up: 1 },
    opens: family.opens?.(settings as never) ?? false,
    parts: family.parts?.(settings as never) ?? [],
    cost: (px) =>
      costOfPainting(family, settings, sizeMm, finerPx(family, settings, sizeMm, px).finer, {
        isLaid: Boolean(ctx.asked.facesPxPerMm),
      }),
    painted: (px) =>
      ctx.later(['painted', key, px], async () => {
        const { times, finer } = finerPx(family, settings, sizeMm, px);
        const pause = (share: number) => ctx.step(share, 'Generating the finish');
        const canvas = new Canvas(sizeMm, finer, settings.seed, pause, ctx.versionOf(generateStage));
        const made = (await solved.get()).of;
        await refusing('generated', 'generated', () =>
          family.paint(canvas, settings as never, made as never),
        );
        return withTurns(ctx.options, canvas.paintedSteps(times));
      }),
    checks: async () => [
      ...closesOtherwise(settings.repeatMm, sizeMm),
      ...assumedFigures(settings),
      ...(family.checks?.(settings as never, sizeMm, (await solved.get()).of as never) ?? []),
    ],
  };
}

/** What a family works out in mm; it is solved again only when a setting that it depends on changes. */
function solvedOf(ctx: RenderContext, settings: GeneratedSettings, sizeMm: SizeMm): Pending<{ of: unknown }> {
  const { solve, solvedBy } = familyOf(settings.kind);
  const by = solvedBy
    ? Object.fromEntries(solvedBy.map((name) => [name, geometric(settings[name])]))
    : settings;
  return ctx.later(['solved', settings.kind, sizeMm, settings.seed, by], async () => ({
    of:
      solve &&
      (await refusing('generated', 'generated', () =>
        withTurns(ctx.options, solve(settings as never, sizeMm, settings.seed)),
      )),
  }));
}

/** A value without its colours, which decide no geometry. */
const geometric = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(geometric)
    : value && typeof value === 'object'
      ? Array.isArray((value as { lab?: unknown }).lab)
        ? null
        : Object.fromEntries(Object.entries(value).map(([k, v]) => [k, geometric(v)]))
      : value;

/** What a million pixels take that strokes go over. */
const SECONDS_PER_STROKED_MEGAPIXEL = 0.015;

/** Painting costs about the same by the pixel in all families; some also work out their elements first. */
const costOfPainting = (
  { name, solve, strokesPx }: Family,
  settings: GeneratedSettings,
  sizeMm: SizeMm,
  px: SizeMm,
  { isLaid }: { isLaid: boolean },
): Cost => ({
  what: `generating ${name.toLowerCase()} at ${px.width} × ${px.height} px`,
  // Faces of pieces are made at the density of the layout.
  less: `Make the repeat of the generated finish smaller${isLaid ? ', or that of the layout larger' : ''}`,
  where: 'generated.repeatMm',
  seconds:
    (solve ? 1.2 : 0.2) +
    (1.2 * px.width * px.height +
      SECONDS_PER_STROKED_MEGAPIXEL * (strokesPx?.(settings as never, sizeMm, px) ?? 0)) /
      1e6,
  bytes: 40 * px.width * px.height,
});

/** How many pixels are painted: more than are wanted where the finest thing would be lost. */
function finerPx(family: Family, settings: GeneratedSettings, sizeMm: SizeMm, px: SizeMm) {
  const times = timesFiner(family.finestMm?.(settings as never), sizeMm, px);
  return { times, finer: { width: px.width * times, height: px.height * times } };
}

/** How many pixels are painted for one on each axis, so that the finest thing is resolved. */
function timesFiner(finestMm: number | undefined, sizeMm: SizeMm, px: SizeMm): 1 | 2 | 4 {
  if (finestMm === undefined) return 1;
  const perPx = Math.max(sizeMm.width / px.width, sizeMm.height / px.height);
  const fits = (times: number) => times * times * px.width * px.height <= MOST_EXTRA_PIXELS;
  if (perPx > finestMm && fits(4)) return 4;
  return perPx > finestMm / 2 && fits(2) ? 2 : 1;
}

/** What it is generated by and nobody has given yet. */
function assumedFigures(settings: GeneratedSettings): Check[] {
  const { settings: described, name, unused } = familyOf(settings.kind);
  const idle: readonly string[] = unused?.(settings as never) ?? [];
  const used = Object.fromEntries(Object.entries(described).filter(([key]) => !idle.includes(key)));
  const bases = basesIn(used, settings);
  const assumed = bases.filter((basis) => basis === 'assumed').length;
  if (assumed === 0) return [];
  return [
    open(
      'sample',
      'generated-assumed',
      `${name}: ${assumed} of the ${bases.length} figures and colours that it is generated from are assumed.`,
    ),
  ];
}

/** A repeat that differs by more from the one asked for is pointed out, as a share. */
const CLOSES_OTHERWISE = 0.002;

function closesOtherwise(asked: SizeMm, made: SizeMm): Check[] {
  const off = Math.max(Math.abs(made.width / asked.width - 1), Math.abs(made.height / asked.height - 1));
  if (off <= CLOSES_OTHERWISE) return [];
  const size = ({ width, height }: SizeMm) => `${printNumber(width, 1)} × ${printNumber(height, 1)}\u2009mm`;
  return [
    open(
      'sample',
      'generated-size',
      `A repeat of ${size(asked)} was asked for; ${size(made)} is the nearest that closes.`,
    ),
  ];
}
