import { writeFileSync } from 'node:fs';
import {
  CATEGORIES,
  defaultRecipe,
  generatedRecipe,
  lead,
  estimateCost,
  recipeJsonSchema,
  recipeSchema,
  renderFinish,
  type Category,
  type Recipe,
} from '@jossel/core/finish';
import { familyOf, GENERATED_FAMILIES, type Setting } from '@jossel/core/generate';
import { seededRandom, type Random } from '@jossel/core/raster';
import { sizeKnownBy } from '@jossel/core/size';
import { NO_PICTURES, Stopped, type Pictures } from '@jossel/core/surface';
import { figure } from '@jossel/core/units';
import { USUAL_LAYERS, usualLayer, type WeatheringLayer } from '@jossel/core/weathering';
import { MANY_FINISHES } from '../standins/many-finishes';
import { sourcesOf } from './many';

/**
 * Random recipes within the ranges of the schema, drawn at 512 px: how long each takes, what is refused, what fails, and how soon
 * one that takes too long stops. Those worth a look are written to files.
 */

const WIDTH_PX = 512;
const SAMPLE_PX = 700;
const CATEGORY_NAMES = Object.keys(CATEGORIES) as Category[];
const TOO_LONG_MS = 60_000;
/** Work that does not look for longer whether it is to stop is worth a look. */
const LONG_GAP_MS = 400;
const MAPS = ['colour', 'height', 'normal', 'occlusion', 'roughness'] as const;

/** The part of JSON Schema that recipes use. */
interface Schema {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: Schema[];
  oneOf?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema | false;
  prefixItems?: Schema[];
  minItems?: number;
  maxItems?: number;
  minimum?: number;
  maximum?: number;
  minLength?: number;
}

/** A number in a range: of any magnitude where the range spans several, at an end now and then. */
function numberWithin(min: number, max: number, random: Random): number {
  const dice = random.next();
  if (dice < 0.06) return min;
  if (dice < 0.1) return max;
  if (min >= 0 && max > 100 * Math.max(min, 0.01)) {
    const least = Math.max(min, max / 1e5);
    return least * Math.exp(random.next() * Math.log(max / least));
  }
  return min + random.next() * (max - min);
}

function fromSchema(schema: Schema, random: Random): unknown {
  if ('const' in schema) return schema.const;
  if (schema.enum) return schema.enum[random.whole(schema.enum.length)];
  const some = schema.anyOf ?? schema.oneOf;
  if (some) return fromSchema(some[random.whole(some.length)]!, random);
  switch (schema.type) {
    case 'object':
      return Object.fromEntries(
        Object.entries(schema.properties ?? {})
          .filter(([key]) => schema.required?.includes(key) || random.next() < 0.4)
          .map(([key, of]) => [key, fromSchema(of, random)]),
      );
    case 'array': {
      if (schema.prefixItems) return schema.prefixItems.map((item) => fromSchema(item, random));
      const least = schema.minItems ?? 0;
      const n = least + random.whole(Math.min(3, (schema.maxItems ?? 3) - least) + 1);
      return schema.items ? Array.from({ length: n }, () => fromSchema(schema.items as Schema, random)) : [];
    }
    case 'number':
    case 'integer': {
      const value = numberWithin(schema.minimum ?? 0, schema.maximum ?? 100, random);
      return schema.type === 'integer' ? Math.round(value) : value;
    }
    case 'boolean':
      return random.next() < 0.5;
    case 'null':
      return null;
    default:
      return 'x'.repeat(Math.max(1, schema.minLength ?? 1));
  }
}

function valueOf(setting: Setting, random: Random): unknown {
  switch (setting.kind) {
    case 'figure': {
      const value = numberWithin(setting.least, setting.most, random);
      return figure(setting.whole ? Math.round(value) : value, setting.unit, 'assumed');
    }
    case 'choice':
      return setting.options[random.whole(setting.options.length)]!.value;
    case 'colour':
      return {
        lab: [random.between(5, 95), random.between(-40, 40), random.between(-40, 40)],
        basis: 'assumed',
      };
    case 'text':
      return setting.initial;
    case 'list':
      return Array.from(
        { length: setting.least + random.whole(Math.min(4, setting.most - setting.least) + 1) },
        () => Object.fromEntries(Object.entries(setting.of).map(([key, s]) => [key, valueOf(s, random)])),
      );
  }
}

const SECTIONS = recipeJsonSchema() as { properties: Record<string, Schema> };

export interface Trial {
  recipe: Recipe;
  pictures: Pictures;
  what: string;
}

/** A repeat of any method, whose arrangements have numbers; half of those that are composed are of usual size. */
function randomRepeat({ repeat: { from } }: Recipe, widthMm: number, random: Random): Recipe['repeat'] {
  const repeat = fromSchema(SECTIONS.properties['repeat']!, random) as Recipe['repeat'];
  const arrangements = repeat.arrangements.map((a, k) => ({ ...a, number: k + 1 }));
  if (arrangements.length === 0) arrangements.push({ number: 1, seed: 1, redone: [] });
  const side = () => widthMm * Math.exp(random.between(-0.5, 2));
  const composed =
    random.next() < 0.5
      ? { ...repeat.composed, widthMm: side(), heightMm: side(), copyMm: null }
      : repeat.composed;
  return { ...repeat, from, composed, arrangements, arrangement: 1 };
}

async function startOf(random: Random): Promise<Trial> {
  if (random.next() < 0.5) {
    const { kind } = GENERATED_FAMILIES[random.whole(GENERATED_FAMILIES.length)]!;
    const settings = Object.entries(familyOf(kind).settings)
      .filter(() => random.next() < 0.6)
      .map(([key, s]) => [key, valueOf(s, random)]);
    const width = numberWithin(5, 20000, random);
    const height = random.next() < 0.2 ? numberWithin(5, 20000, random) : width * random.between(0.3, 3);
    const recipe = generatedRecipe(kind, {
      ...Object.fromEntries(settings),
      ...(random.next() < 0.6 ? { repeatMm: { width, height: Math.min(20000, Math.max(5, height)) } } : {}),
      seed: random.whole(1000),
    });
    return { recipe, pictures: NO_PICTURES, what: kind };
  }
  const finish = MANY_FINISHES[random.whole(8)]!;
  const { picture } = await finish.picture(SAMPLE_PX);
  const recipe = defaultRecipe(['a'], CATEGORY_NAMES[random.whole(CATEGORY_NAMES.length)]!, picture);
  const widthMm = numberWithin(10, 20000, random);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'assumed') }, 'follows');
  if (random.next() < 0.7) recipe.repeat = randomRepeat(recipe, widthMm, random);
  return { recipe, pictures: sourcesOf(picture, finish.name), what: finish.name };
}

/** A layout of pieces between mosaic and slabs, some pieces each way to a repeat, in joints that leave room for them. */
function ofUsualSize(layout: NonNullable<Recipe['layout']>, random: Random): Recipe['layout'] {
  const lengthMm = 20 * Math.exp(random.next() * Math.log(60));
  const widthMm = lengthMm * random.between(0.15, 1);
  const jointMm = random.between(0, 0.15) * widthMm;
  const mm = (value: number) => figure(value, 'mm', 'assumed');
  return {
    ...layout,
    piece: { ...layout.piece, lengthMm: mm(lengthMm), widthMm: mm(widthMm) },
    joint: { ...layout.joint, alongMm: mm(jointMm), acrossMm: mm(jointMm) },
    repeatMm: { width: lengthMm * random.between(2, 12), height: lengthMm * random.between(2, 12) },
  };
}

function withMore({ recipe, pictures, what }: Trial, random: Random): Trial {
  const said = [what];
  const next = { ...recipe };
  if (random.next() < 0.4) {
    next.layout = fromSchema(SECTIONS.properties['layout']!, random) as Recipe['layout'];
    // Most pieces and joints are of sizes that are laid; within all that the schema takes, nearly all are refused.
    if (next.layout && random.next() < 0.8) next.layout = ofUsualSize(next.layout, random);
    said.push(next.layout ? next.layout.bond.kind : 'not laid');
  }
  if (random.next() < 0.3) {
    const layers = Array.from({ length: 1 + random.whole(3) }, (_, k) => {
      const usual = usualLayer(USUAL_LAYERS[random.whole(USUAL_LAYERS.length)]!.name, `l${k}`);
      return {
        ...usual,
        coverPercent: random.between(0, 100),
        scaleMm: numberWithin(0.1, 5000, random),
      } as WeatheringLayer;
    });
    next.weathering = layers;
    said.push(...layers.map((l) => l.name));
  }
  if (random.next() < 0.3) {
    next.relief = fromSchema(SECTIONS.properties['relief']!, random) as Recipe['relief'];
    said.push('relief');
  }
  if (random.next() < 0.3) {
    next.response = fromSchema(SECTIONS.properties['response']!, random) as Recipe['response'];
    said.push('response');
  }
  return { recipe: next, pictures, what: said.join(', ') };
}

/** Random recipes that the schema accepts. */
export async function validTrial(random: Random): Promise<Trial> {
  for (;;) {
    const start = await startOf(random);
    for (let k = 0; k < 30; k++) {
      const trial = withMore(start, random);
      const parsed = recipeSchema.safeParse(JSON.parse(JSON.stringify(trial.recipe)));
      if (parsed.success) return { ...trial, recipe: parsed.data as Recipe };
    }
  }
}

interface Outcome {
  what: string;
  ms: number;
  how: 'drawn' | 'refused' | 'failed' | 'stopped';
  says: string;
  /** As estimated before it began; 0: it was refused. */
  estimateMs: number;
  /** The longest time that it did not look whether it is to stop: so long a stop takes at worst. */
  gapMs: number;
  /** Where it is kept; empty: nowhere. */
  file: string;
}

/**
 * How long this process has computed. On a machine that is busy with other work the clock runs on while it waits for a core; with
 * threads that collect garbage beside it, processor time runs ahead of the clock.
 */
function stopwatch(): { ms(): number } {
  const [clockMs, usage] = [performance.now(), process.cpuUsage()];
  const processorMs = () => {
    const { user, system } = process.cpuUsage(usage);
    return (user + system) / 1000;
  };
  return { ms: () => Math.min(performance.now() - clockMs, processorMs()) };
}

/** Lets others in, and measures how long they had to wait at most. */
class Turns {
  longestMs = 0;
  private last = stopwatch();

  async pause(): Promise<void> {
    this.note();
    await new Promise((resolve) => setImmediate(resolve));
    this.last = stopwatch();
  }

  note(): void {
    this.longestMs = Math.max(this.longestMs, this.last.ms());
  }
}

async function tried(
  { recipe, pictures, what }: Trial,
  n: number,
  folder: string | undefined,
): Promise<Outcome> {
  // What ends the process is found here.
  if (folder) writeFileSync(`${folder}/now.json`, JSON.stringify({ what, recipe }));
  const signal = { aborted: false };
  const taken = stopwatch();
  const timer = setInterval(() => (signal.aborted ||= taken.ms() > TOO_LONG_MS), 100);
  let [how, says]: [Outcome['how'], string] = ['drawn', ''];
  let estimateMs = 0;
  const turns = new Turns();
  try {
    const pause = () => turns.pause();
    estimateMs = 1000 * (await estimateCost(recipe, pictures, { widthPx: WIDTH_PX, signal, pause })).seconds;
    await renderFinish(recipe, pictures, { widthPx: WIDTH_PX, maps: MAPS, signal, pause });
  } catch (error) {
    const { name, message, stack } = error as Error;
    how = error instanceof Stopped ? 'stopped' : name === 'Refusal' ? 'refused' : 'failed';
    says = how === 'failed' ? `${message} ${(stack ?? '').split('\n')[1] ?? ''}` : message;
  }
  turns.note();
  clearInterval(timer);
  const ms = taken.ms();
  const outcome = { what, ms, how, says, estimateMs, gapMs: turns.longestMs, file: '' };
  if (folder && isWorthALook(outcome)) outcome.file = `${folder}/recipe-${n}.json`;
  if (outcome.file) writeFileSync(outcome.file, JSON.stringify({ what, recipe }));
  return outcome;
}

const isWorthALook = ({ how, ms, estimateMs, gapMs }: Outcome): boolean =>
  how === 'failed' || ms > TOO_LONG_MS / 3 || gapMs > LONG_GAP_MS || (how === 'drawn' && ms > 3 * estimateMs);

/** The values below which shares of some lie, for a row of the table. */
function quantiles(values: readonly number[], shares: readonly number[], digits: number): string {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
  return shares.map((share) => at(share).toFixed(digits)).join(', ');
}

export async function benchRandom(
  print: (what: string, value: string, reach?: string) => void,
  { count = 500, seed = 1, folder }: { count?: number; seed?: number; folder?: string } = {},
): Promise<void> {
  const random = seededRandom(seed);
  const out: Outcome[] = [];
  for (let n = 0; n < count; n++) {
    const outcome = await tried(await validTrial(random), n, folder);
    out.push(outcome);
    const { how, ms, estimateMs, gapMs, what, says, file } = outcome;
    if (isWorthALook(outcome))
      console.log(
        `  ${n} ${how} after ${(ms / 1000).toFixed(1)} s (estimated ${(estimateMs / 1000).toFixed(1)}), at most ${gapMs.toFixed(0)} ms between looks at the signal: ${what}. ${says} ${file}`,
      );
  }
  const of = (how: Outcome['how']) => out.filter((o) => o.how === how);
  print(
    `${count} random recipes at ${WIDTH_PX} px: drawn, refused in words, stopped after ${TOO_LONG_MS / 1000} s, failed`,
    (['drawn', 'refused', 'stopped', 'failed'] as const).map((how) => of(how).length).join(', '),
    'no failure',
  );
  const seconds = of('drawn').map(({ ms }) => ms / 1000);
  print('their times: median, 95th percentile, slowest', `${quantiles(seconds, [0.5, 0.95, 1], 2)} s`);
  // One that was stopped takes at least as long as until then.
  const ratios = out
    .filter((o) => o.how === 'drawn' || (o.how === 'stopped' && o.ms > o.estimateMs))
    .map((o) => o.ms / o.estimateMs);
  print(
    'their times over what was estimated: 5th percentile, median, 95th and 99th percentile, greatest',
    quantiles(ratios, [0.05, 0.5, 0.95, 0.99, 1], 2),
    '≤ 3',
  );
  const gaps = out.filter(({ how }) => how !== 'refused').map(({ gapMs }) => gapMs / 1000);
  print(
    'longest time without a look whether to stop: median, 95th percentile, longest',
    `${quantiles(gaps, [0.5, 0.95, 1], 2)} s`,
    '≤ 0.2 s',
  );
}
