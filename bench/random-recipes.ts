import { writeFileSync } from 'node:fs';
import {
  CATEGORIES,
  defaultRecipe,
  generatedRecipe,
  lead,
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
const TOO_LONG_MS = 15_000;
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

interface Trial {
  recipe: Recipe;
  pictures: Pictures;
  what: string;
}

async function startOf(random: Random): Promise<Trial> {
  if (random.next() < 0.5) {
    const { kind } = GENERATED_FAMILIES[random.whole(GENERATED_FAMILIES.length)]!;
    const settings = Object.entries(familyOf(kind).settings)
      .filter(() => random.next() < 0.6)
      .map(([key, s]) => [key, valueOf(s, random)]);
    const side = () => numberWithin(5, 20000, random);
    const recipe = generatedRecipe(kind, {
      ...Object.fromEntries(settings),
      ...(random.next() < 0.6 ? { repeatMm: { width: side(), height: side() } } : {}),
      seed: random.whole(1000),
    });
    return { recipe, pictures: NO_PICTURES, what: kind };
  }
  const finish = MANY_FINISHES[random.whole(8)]!;
  const { picture } = await finish.picture(SAMPLE_PX);
  const recipe = defaultRecipe(['a'], CATEGORY_NAMES[random.whole(CATEGORY_NAMES.length)]!, picture);
  const widthMm = numberWithin(10, 20000, random);
  lead(recipe).size = sizeKnownBy({ overall: figure(widthMm, 'mm', 'assumed') }, 'follows');
  const from = recipe.repeat.from;
  const repeat = fromSchema(SECTIONS.properties['repeat']!, random) as Recipe['repeat'];
  if (random.next() < 0.7) recipe.repeat = { ...repeat, from };
  return { recipe, pictures: sourcesOf(picture, finish.name), what: finish.name };
}

function withMore({ recipe, pictures, what }: Trial, random: Random): Trial {
  const said = [what];
  const next = { ...recipe };
  if (random.next() < 0.4) {
    next.layout = fromSchema(SECTIONS.properties['layout']!, random) as Recipe['layout'];
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
async function validTrial(random: Random): Promise<Trial> {
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
  /** From the wish to stop until it did. */
  stopMs: number;
  file: string;
}

async function tried(
  { recipe, pictures, what }: Trial,
  n: number,
  folder: string | undefined,
): Promise<Outcome> {
  // What ends the process is found here.
  if (folder) writeFileSync(`${folder}/now.json`, JSON.stringify({ what, recipe }));
  const signal = { aborted: false };
  const started = performance.now();
  let asked = Infinity;
  const due = () => {
    if (!signal.aborted && performance.now() - started > TOO_LONG_MS) {
      signal.aborted = true;
      asked = performance.now();
    }
  };
  const timer = setInterval(due, 50);
  let [how, says]: [Outcome['how'], string] = ['drawn', ''];
  try {
    await renderFinish(recipe, pictures, {
      widthPx: WIDTH_PX,
      maps: MAPS,
      signal,
      pause: () => new Promise((resolve) => setImmediate(resolve)),
    });
  } catch (error) {
    const { name, message, stack } = error as Error;
    how = error instanceof Stopped ? 'stopped' : name === 'Refusal' ? 'refused' : 'failed';
    says = how === 'failed' ? `${message} ${(stack ?? '').split('\n')[1] ?? ''}` : message;
  }
  clearInterval(timer);
  const ended = performance.now();
  const ms = ended - started;
  const file = folder && (how === 'failed' || ms > TOO_LONG_MS / 3) ? `${folder}/recipe-${n}.json` : '';
  if (file) writeFileSync(file, JSON.stringify({ what, recipe }));
  return { what, ms, how, says, stopMs: how === 'stopped' ? ended - asked : 0, file };
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
    if (outcome.how === 'failed' || outcome.how === 'stopped' || outcome.ms > TOO_LONG_MS / 3)
      console.log(
        `  ${n} ${outcome.how} after ${(outcome.ms / 1000).toFixed(1)} s: ${outcome.what}. ${outcome.says} ${outcome.file}`,
      );
  }
  const of = (how: Outcome['how']) => out.filter((o) => o.how === how);
  const times = of('drawn')
    .map((o) => o.ms / 1000)
    .sort((a, b) => a - b);
  const at = (share: number) =>
    times[Math.min(times.length - 1, Math.floor(share * times.length))]!.toFixed(2);
  print(
    `${count} random recipes at ${WIDTH_PX} px: drawn, refused in words, stopped, failed`,
    (['drawn', 'refused', 'stopped', 'failed'] as const).map((how) => of(how).length).join(', '),
    'no failure',
  );
  print('their times: median, 95th percentile, slowest', `${at(0.5)}, ${at(0.95)}, ${at(1)} s`);
  const stops = of('stopped').map((o) => o.stopMs);
  if (stops.length > 0)
    print(
      'from the wish to stop until it did, slowest',
      `${(Math.max(...stops) / 1000).toFixed(2)} s`,
      '≤ 0.2 s',
    );
}
