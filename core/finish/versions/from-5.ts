import type { StoredRecipe } from './from-1';

/** What version 5 says, as far as it is taken apart here. */
interface Recipe5 extends StoredRecipe {
  source: { sampleIds: readonly string[]; maps?: readonly unknown[] };
  sample: { used: string | null; holdLines: unknown; parts: unknown; areas: readonly { id: string }[] };
  size: unknown;
  colour: Record<'levelling' | 'fills' | 'balance' | 'grey' | 'target', unknown>;
  repeat: {
    way: 'edges' | 'compose';
    compose: { areas: readonly string[]; pictures: readonly { sampleId: string; widthMm: number | null }[] };
    arrangements: readonly { redone: readonly { taken: readonly { source: number }[] }[] }[];
  };
  relief: { source: 'picture' | 'map'; zero: unknown };
  response: { glossGu: unknown; index: unknown; metal: boolean };
}

/**
 * Version 5 knew one picture, which was prepared, sized and lit; others were joined to it as they were. In version 6 every
 * picture has its own preparation, size and light, and the repeat says what it is made from. Relief and response become
 * lists and unions.
 */
export function from5(stored: StoredRecipe): StoredRecipe {
  const { source, sample, size, colour, repeat, relief, response } = stored as Recipe5;
  const { levelling, fills, balance, grey, target, ...match } = colour;
  const idOf = (sampleId: string) => `p${source.sampleIds.indexOf(sampleId) + 1}`;
  const { areas, pictures } = repeat.compose;
  const joined = pictures.filter((p) => source.sampleIds.includes(p.sampleId));
  const { used, holdLines, ...preparation } = sample;
  const sources = source.sampleIds.map((sampleId, k) =>
    k === 0
      ? {
          kind: 'picture',
          id: 'p1',
          sampleId,
          preparation: { ...preparation, continuityLines: holdLines },
          size,
          light: { levelling, fills, balance, grey, target },
          maps: source.maps ?? [],
        }
      : furtherPicture(
          idOf(sampleId),
          sampleId,
          joined.find((p) => p.sampleId === sampleId),
          sample.parts,
        ),
  );
  const isThere = (id: string) => sample.areas.some((a) => a.id === id);
  return {
    schema: 'jossel.finish/6',
    sources,
    repeat: {
      ...repeatOf(repeat, pictures, idOf),
      from:
        sources.length === 0
          ? []
          : [
              { source: 'p1', area: used },
              ...areas.filter((id) => id !== used && isThere(id)).map((area) => ({ source: 'p1', area })),
              ...joined.map((p) => ({ source: idOf(p.sampleId), area: null })),
            ],
    },
    colour: match,
    relief: reliefOf(relief),
    response: {
      base: response.metal ? { kind: 'metal' } : { kind: 'dielectric', index: response.index },
      glossGu: response.glossGu,
    },
  };
}

/** A picture after the first: joined as a whole, as it was received; its parts were those of the first. */
const furtherPicture = (
  id: string,
  sampleId: string,
  joined: { widthMm: number | null } | undefined,
  parts: unknown,
) => ({
  kind: 'picture',
  id,
  sampleId,
  preparation: {
    bowLines: [],
    frame: null,
    areas: [],
    keepOuts: [],
    continuityLines: [],
    parts: joined ? parts : [],
  },
  size: joined?.widthMm
    ? {
        ruling: { across: 'overall', up: 'follows' },
        overall: { across: { value: joined.widthMm, unit: 'mm', basis: 'assumed' }, up: null },
        count: { across: null, up: null },
        structure: { across: null, up: null },
        lines: [],
        resolution: null,
        card: null,
      }
    : null,
  light: {
    levelling: null,
    fills: [],
    balance: 'none',
    grey: null,
    target: { reference: null, leftOut: [], offset: false },
  },
  maps: [],
});

function repeatOf(
  { way, compose, arrangements, ...repeat }: Recipe5['repeat'],
  pictures: Recipe5['repeat']['compose']['pictures'],
  idOf: (sampleId: string) => string,
) {
  const { areas: _, pictures: __, ...composed } = compose;
  const sourceOf = (number: number) => (number === 0 ? 'p1' : idOf(pictures[number - 1]?.sampleId ?? ''));
  return {
    ...repeat,
    method: way === 'compose' ? 'composed' : 'edges',
    composed,
    arrangements: arrangements.map((arrangement) => ({
      ...arrangement,
      redone: arrangement.redone.map((item) => ({
        ...item,
        taken: item.taken.map((t) => ({ ...t, source: sourceOf(t.source) })),
      })),
    })),
  };
}

function reliefOf({ source, zero, ...shape }: Recipe5['relief']) {
  const name = source === 'picture' ? 'Picture' : 'Map of the set';
  return { contributions: [{ kind: source, id: 'r1', name, ...shape }], zero };
}
