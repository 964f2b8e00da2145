import { labToXyz } from '../colour';
import { plainColour, plainLight } from '../light';
import { plainRepeat } from '../repeat';
import { unprepared, type SourceMap } from '../sample';
import { NO_SIZE, type SizeSettings } from '../size';
import type { PictureSource } from '../sources';
import type { FoundCard } from '../straighten';
import { figure } from '../units';
import { leadingPicture, SCHEMA_ID, type Recipe } from './recipe';

/** What a new finish begins with. */

/** What a category's finishes are usually like: a place to start from, marked *assumed*. */
export const CATEGORIES = {
  timber: { name: 'Timber', glossGu: 12, depthMm: 0.3, metal: false },
  ceramic: { name: 'Ceramic', glossGu: 80, depthMm: 0.4, metal: false },
  brick: { name: 'Brick and clay', glossGu: 4, depthMm: 2, metal: false },
  stone: { name: 'Stone', glossGu: 15, depthMm: 0.2, metal: false },
  plaster: { name: 'Plaster and render', glossGu: 3, depthMm: 0.8, metal: false },
  concrete: { name: 'Concrete', glossGu: 4, depthMm: 0.5, metal: false },
  textile: { name: 'Textile', glossGu: 1, depthMm: 0.8, metal: false },
  metal: { name: 'Metal', glossGu: 150, depthMm: 0.02, metal: true },
  resilient: { name: 'Linoleum, rubber, cork', glossGu: 8, depthMm: 0.1, metal: false },
  other: { name: 'Other', glossGu: 10, depthMm: 0.2, metal: false },
} as const;
export type Category = keyof typeof CATEGORIES;
export const CATEGORY_IDS = Object.keys(CATEGORIES) as [Category, ...Category[]];

/** Figures of a supplier's data sheet, as far as it gives them. */
export interface PublishedSheet {
  /** Of one piece. */
  widthMm?: number;
  heightMm?: number;
  jointMm?: number;
  thicknessMm?: number;
  lrv?: number;
  lab?: [number, number, number];
  glossGu?: number;
  reliefMm?: number;
}

/** What is known of the first picture of a new finish. */
export interface FirstSample {
  widthPx: number;
  heightPx: number;
  /** From the file. */
  pxPerMm?: number | undefined;
  sheet?: PublishedSheet;
}

/** A sheet's size is that of one piece; it is taken for the picture's when their proportions agree this well. */
const PIECE_FILLS_PICTURE = 0.06;
/** A resolution tag that gives a size outside these is not believed, mm. */
const BELIEVED_MM = { from: 10, to: 20000 };

const published = <U extends 'mm' | 'LRV' | 'GU'>(value: number, unit: U) =>
  figure(value, unit, 'published', undefined, 'Data sheet of the supplier');

/** A further picture, as received; its pixels are as large as those of the leading one. */
export const pictureSource = (id: string, sampleId: string, maps: SourceMap[] = []): PictureSource => ({
  kind: 'picture',
  id,
  sampleId,
  preparation: unprepared(),
  size: null,
  light: plainLight(),
  maps,
});

/** An id that no source has yet. */
export function newSourceId(sources: readonly { id: string }[]): string {
  let n = sources.length + 1;
  while (sources.some((s) => s.id === `p${n}`)) n++;
  return `p${n}`;
}

/**
 * The recipe a new finish begins with. All its figures are marked *assumed*, except a size read from the file, and
 * those of a data sheet, which are *published*.
 * @param sampleIds its pictures, the leading one first
 * @param category what kind of finish it is
 * @param sample what is known of the first picture
 */
export function defaultRecipe(
  sampleIds: readonly string[],
  category: Category,
  sample?: FirstSample,
): Recipe {
  const usual = CATEGORIES[category];
  const sheet = sample?.sheet ?? {};
  const lrv = sheet.lrv ?? (sheet.lab && Number((100 * labToXyz(sheet.lab)[1]).toFixed(1)));
  const { size, usedMm } = firstSize(sample);
  const lengths = lengthsFor(usedMm);
  return {
    schema: SCHEMA_ID,
    sources: sampleIds.map((sampleId, k) => ({
      ...pictureSource(`p${k + 1}`, sampleId),
      ...(k === 0 ? { size } : {}),
    })),
    repeat: {
      ...plainRepeat(),
      from: sampleIds.length > 0 ? [{ source: 'p1', area: null }] : [],
      across: { closing: 'blend', overlapMm: lengths.overlapAcrossMm },
      up: { closing: 'blend', overlapMm: lengths.overlapUpMm },
    },
    colour: {
      ...plainColour(),
      ruling: lrv === undefined ? 'picture' : 'lrv',
      lrv: lrv === undefined ? null : published(lrv, 'LRV'),
      colour: sheet.lab ? { lab: sheet.lab, basis: 'published', note: 'Data sheet of the supplier' } : null,
    },
    relief: {
      contributions: [
        {
          kind: 'picture',
          id: 'r1',
          name: 'Picture',
          depthMm: sheet.reliefMm ? published(sheet.reliefMm, 'mm') : figure(usual.depthMm, 'mm', 'assumed'),
          broad: 0.3,
          middle: 1,
          fine: 0.7,
          broadFromMm: lengths.broadFromMm,
          fineBelowMm: lengths.fineBelowMm,
          smoothMm: 0,
          invert: false,
        },
      ],
      zero: 'mean',
    },
    response: {
      base: usual.metal ? { kind: 'metal' } : { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
      glossGu:
        sheet.glossGu !== undefined ? published(sheet.glossGu, 'GU') : figure(usual.glossGu, 'GU', 'assumed'),
    },
  };
}

/**
 * A new recipe that uses a target card found in its first picture: for the size, and for white balance and exposure.
 * @param card its ring marks in the picture; null: none was found
 */
export function withCard(recipe: Recipe, card: FoundCard | null): Recipe {
  const [first, ...others] = recipe.sources;
  if (!card || !first) return recipe;
  const before = first.size ?? NO_SIZE;
  const overall = (axis: 'across' | 'up') =>
    before.overall[axis]?.basis === 'assumed' ? null : before.overall[axis];
  const size: SizeSettings = {
    ...before,
    ruling: { across: 'card', up: 'card' },
    overall: { across: overall('across'), up: overall('up') },
    card: { marks: card.marks.map((m) => [...m]) as NonNullable<SizeSettings['card']>['marks'] },
  };
  return { ...recipe, sources: [{ ...first, size, light: { ...first.light, balance: 'card' } }, ...others] };
}

/** Size of the first picture, by the best that is known of it. */
function firstSize(sample: FirstSample | undefined): {
  size: SizeSettings;
  usedMm: { width: number; height: number };
} {
  const sheet = sample?.sheet ?? {};
  const aspect = sample ? sample.heightPx / sample.widthPx : 1;
  const of = (size: Partial<SizeSettings>, widthMm: number) => ({
    size: { ...NO_SIZE, ...size },
    usedMm: { width: widthMm, height: sample ? (widthMm * sample.heightPx) / sample.widthPx : widthMm },
  });
  if (
    sample &&
    sheet.widthMm &&
    sheet.heightMm &&
    Math.abs((sheet.widthMm / sheet.heightMm) * aspect - 1) < PIECE_FILLS_PICTURE
  )
    return of(
      {
        ruling: { across: 'overall', up: 'overall' },
        overall: { across: published(sheet.widthMm, 'mm'), up: published(sheet.heightMm, 'mm') },
      },
      sheet.widthMm,
    );
  const tagged = sample?.pxPerMm ? sample.widthPx / sample.pxPerMm : 0;
  if (tagged >= BELIEVED_MM.from && tagged <= BELIEVED_MM.to)
    return of(
      {
        ruling: { across: 'resolution', up: 'resolution' },
        resolution: figure(
          sample!.pxPerMm!,
          'px/mm',
          'inferred',
          undefined,
          'From the resolution stored in the file',
        ),
      },
      tagged,
    );
  return of(
    {
      ruling: { across: 'overall', up: 'follows' },
      overall: { across: figure(1000, 'mm', 'assumed'), up: null },
    },
    1000,
  );
}

/** Lengths that a new finish begins with; they go with the size of what the repeat is made from. */
function lengthsFor(usedMm: { width: number; height: number }) {
  const round = (mm: number) => Math.max(0.01, Number(mm.toPrecision(2)));
  const shortMm = Math.min(usedMm.width, usedMm.height);
  return {
    overlapAcrossMm: round(usedMm.width / 8),
    overlapUpMm: round(usedMm.height / 8),
    broadFromMm: round(shortMm / 12),
    fineBelowMm: round(shortMm / 80),
  };
}

/**
 * A recipe whose size has become known, or another: lengths that nobody has touched since it began are set anew for the
 * new size; all others stay as they were typed.
 * @param recipe with its new size
 * @param before size of the used part that the lengths were made for
 * @param after its size now
 */
export function refitLengths(
  recipe: Recipe,
  before: { width: number; height: number },
  after: { width: number; height: number },
): Recipe {
  const [was, now] = [lengthsFor(before), lengthsFor(after)];
  const fit = (value: number, key: keyof typeof was) => (value === was[key] ? now[key] : value);
  const { repeat, relief } = recipe;
  return {
    ...recipe,
    repeat: {
      ...repeat,
      across: { ...repeat.across, overlapMm: fit(repeat.across.overlapMm, 'overlapAcrossMm') },
      up: { ...repeat.up, overlapMm: fit(repeat.up.overlapMm, 'overlapUpMm') },
    },
    relief: {
      ...relief,
      contributions: relief.contributions.map((c) => ({
        ...c,
        broadFromMm: fit(c.broadFromMm, 'broadFromMm'),
        fineBelowMm: fit(c.fineBelowMm, 'fineBelowMm'),
      })),
    },
  };
}

/** A recipe with maps of a set added to its leading picture; where they tell the relief, it comes from them. */
export function withMapsOfSet(recipe: Recipe, maps: SourceMap[]): Recipe {
  const lead = leadingPicture(recipe);
  if (!lead || maps.length === 0) return recipe;
  const tellsRelief = maps.some((m) => m.role === 'height' || m.role === 'normal');
  return {
    ...recipe,
    sources: recipe.sources.map((s) => (s.id === lead.id ? { ...s, maps } : s)),
    relief: tellsRelief ? reliefFrom(recipe.relief, 'map') : recipe.relief,
  };
}

/** Relief whose first contribution comes from the picture, or from a map of the set. */
export const reliefFrom = (relief: Recipe['relief'], kind: 'picture' | 'map'): Recipe['relief'] => ({
  ...relief,
  contributions: relief.contributions.map((c, k) =>
    k === 0 ? { ...c, kind, name: kind === 'picture' ? 'Picture' : 'Map of the set' } : c,
  ),
});
