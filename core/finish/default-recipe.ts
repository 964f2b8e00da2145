import { labToXyz } from '../colour';
import { plainColour, plainLight } from '../light';
import { plainRepeat } from '../repeat';
import { unprepared, type SourceMap } from '../sample';
import { NO_SIZE, type SizeSettings } from '../size';
import { clearPane, type ResponseSettings } from '../response';
import { isBanded, type BandedContribution, type JointsContribution } from '../relief';
import type { PictureSource } from '../sources';
import type { FoundCard } from '../straighten';
import { figure } from '../units';
import { leadingPicture, SCHEMA_ID, type Recipe } from './recipe';

/** What a new finish begins with. */

interface UsualFinish {
  name: string;
  glossGu: number;
  /** Of relief taken from the whole contrast of a picture. */
  depthMm: number;
  /** Root mean square slope of each octave of its detail. */
  steepestDeg: number;
  /** Dark yarns are no hollows, but the dark between yarns is: there colour does not tell the two apart. */
  colourOut: boolean;
  /** By what share of the gloss its hollows are more matt: pores and joints are not polished, what is fired or rolled is alike. */
  hollowsMatter: number;
  /** Depth of joints between its pieces; null: it need not be laid of pieces. */
  jointMm: number | null;
  metal: boolean;
  glass: boolean;
}

/** What a category's finishes are usually like: a place to start from, marked *assumed*. */
export const CATEGORIES = {
  timber: usualFinish('Timber', 12, 0.3, 8),
  ceramic: { ...usualFinish('Ceramic', 80, 0.4, 4), hollowsMatter: 0.2 },
  brick: { ...usualFinish('Brick and clay', 4, 2, 12), jointMm: 3 },
  stone: usualFinish('Stone', 15, 0.2, 8),
  plaster: usualFinish('Plaster and render', 3, 0.8, 10),
  concrete: usualFinish('Concrete', 4, 0.5, 8),
  textile: { ...usualFinish('Textile', 1, 0.8, 16), colourOut: false },
  metal: { ...usualFinish('Metal', 150, 0.02, 4), metal: true, hollowsMatter: 0.2 },
  resilient: usualFinish('Linoleum, rubber, cork', 8, 0.1, 4),
  glass: { ...usualFinish('Glass', 92, 0.01, 2), glass: true, hollowsMatter: 0 },
  other: usualFinish('Other', 10, 0.2, 8),
} as const satisfies Record<string, UsualFinish>;

function usualFinish(name: string, glossGu: number, depthMm: number, steepestDeg: number): UsualFinish {
  return {
    name,
    glossGu,
    depthMm,
    steepestDeg,
    colourOut: true,
    hollowsMatter: 0.4,
    jointMm: null,
    metal: false,
    glass: false,
  };
}
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
  const usual: UsualFinish = CATEGORIES[category];
  const sheet = sample?.sheet ?? {};
  const lrv = sheet.lrv ?? (sheet.lab && Number((100 * labToXyz(sheet.lab)[1]).toFixed(1)));
  const { size, usedMm } = firstSize(sample);
  const lengths = lengthsFor(usedMm);
  const gloss =
    sheet.glossGu !== undefined ? published(sheet.glossGu, 'GU') : figure(usual.glossGu, 'GU', 'assumed');
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
    generated: null,
    derived: null,
    layout: null,
    colour: {
      ...plainColour(),
      ruling: lrv === undefined ? 'picture' : 'lrv',
      lrv: lrv === undefined ? null : published(lrv, 'LRV'),
      colour: sheet.lab ? { lab: sheet.lab, basis: 'published', note: 'Data sheet of the supplier' } : null,
    },
    weathering: [],
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
          steepestDeg: usual.steepestDeg,
          colourOut: usual.colourOut,
        },
      ],
      zero: 'mean',
    },
    response: {
      base: usual.metal
        ? { kind: 'metal' }
        : usual.glass
          ? clearPane()
          : { kind: 'dielectric', index: figure(1.5, '1', 'assumed') },
      glossGu: gloss,
      ...hollowsByGloss(gloss.value, usual.hollowsMatter, lengths.broadFromMm),
    },
  };
}

/** Gloss that is lower in hollows, by a share of it. */
function hollowsByGloss(
  glossGu: number,
  share: number,
  reachMm: number,
): Pick<ResponseSettings, 'variation'> {
  const byGu = Number((-share * glossGu).toPrecision(2));
  return byGu === 0 ? {} : { variation: [{ id: 'v1', from: 'hollows', byGu, reachMm, seed: 1 }] };
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

/** What joints look like in a sample. */
export interface FoundJoints {
  look: JointsContribution['look'];
  /** Joints are no wider than this share of the shorter side. */
  widestShare: number;
  /** The grain of the faces has to be smoothed away by this share of that width; none: joints are seen without. */
  smoothShare?: number;
}

/** A face falls to the joint over this share of the widest joint. */
const EDGE_SHARE = 0.3;

const round = (mm: number) => Math.max(0.01, Number(mm.toPrecision(2)));
export const jointLengths = (widestShare: number, shortMm: number) => ({
  widestMm: round(Math.max(0.05, widestShare * shortMm)),
  edgeMm: round(EDGE_SHARE * widestShare * shortMm),
});

/** Slope that detail of a picture is held to where nothing is known of the finish. */
const ANY_STEEPEST_DEG = 8;

/** Lightness of the picture as relief, where nothing is known of the finish. @param usedMm size of what the repeat is made from */
export function pictureContribution(usedMm: {
  width: number;
  height: number;
}): Extract<BandedContribution, { kind: 'picture' }> {
  const { broadFromMm, fineBelowMm } = lengthsFor(usedMm);
  return {
    kind: 'picture',
    id: 'picture',
    name: 'Picture',
    depthMm: figure(0.3, 'mm', 'assumed'),
    broad: 0.3,
    middle: 1,
    fine: 0.7,
    broadFromMm,
    fineBelowMm,
    smoothMm: 0,
    invert: false,
    steepestDeg: ANY_STEEPEST_DEG,
    colourOut: true,
  };
}

/** Joints of a sample as relief. @param usedMm size of what the repeat is made from */
export const jointsContribution = (
  { look, widestShare, smoothShare }: FoundJoints,
  usedMm: { width: number; height: number },
  depthMm: JointsContribution['depthMm'],
): JointsContribution => ({
  kind: 'joints',
  id: 'joints',
  name: 'Joints',
  depthMm,
  look,
  ...jointLengths(widestShare, Math.min(usedMm.width, usedMm.height)),
  ...(smoothShare ? { smoothShare } : {}),
});

/** A new recipe whose relief recesses the joints of its sample, where its category is always laid of pieces. */
export function withJoints(
  recipe: Recipe,
  category: Category,
  joints: FoundJoints | null,
  usedMm: { width: number; height: number },
): Recipe {
  const { jointMm }: UsualFinish = CATEGORIES[category];
  if (!joints || jointMm === null) return recipe;
  const { relief } = recipe;
  const added = jointsContribution(joints, usedMm, figure(jointMm, 'mm', 'assumed'));
  return { ...recipe, relief: { ...relief, contributions: [...relief.contributions, added] } };
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
export function lengthsFor(usedMm: { width: number; height: number }) {
  const shortMm = Math.min(usedMm.width, usedMm.height);
  return {
    overlapAcrossMm: round(usedMm.width / 8),
    overlapUpMm: round(usedMm.height / 8),
    broadFromMm: round(shortMm / 12),
    fineBelowMm: round(shortMm / 80),
  };
}

/** A recipe with maps of a set added to its leading picture; where they tell relief or gloss, these come from them. */
export function withMapsOfSet(recipe: Recipe, maps: SourceMap[]): Recipe {
  const lead = leadingPicture(recipe);
  if (!lead || maps.length === 0) return recipe;
  const tellsRelief = maps.some((m) => m.role === 'height' || m.role === 'normal');
  const tellsGloss = maps.some((m) => m.role === 'roughness' || m.role === 'gloss');
  return {
    ...recipe,
    sources: recipe.sources.map((s) => (s.id === lead.id ? { ...s, maps } : s)),
    relief: tellsRelief ? reliefFrom(recipe.relief, 'map') : recipe.relief,
    response: tellsGloss ? { ...recipe.response, variation: [] } : recipe.response,
  };
}

/** Relief whose first contribution in bands comes from the picture, or from a map of the set. */
export function reliefFrom(relief: Recipe['relief'], kind: BandedContribution['kind']): Recipe['relief'] {
  const first = relief.contributions.findIndex(isBanded);
  return {
    ...relief,
    contributions: relief.contributions.map((c, k) => (k === first && isBanded(c) ? bandedFrom(c, kind) : c)),
  };
}

const BANDED_NAMES = { picture: 'Picture', map: 'Map of the set', measured: 'Measured' } as const;

function bandedFrom(c: BandedContribution, kind: BandedContribution['kind']): BandedContribution {
  if (c.kind === kind) return c;
  const { colourOut: _, ...shared } = { colourOut: true, ...c };
  const name = BANDED_NAMES[kind];
  return kind === 'picture' ? { ...shared, kind, name, colourOut: true } : { ...shared, kind, name };
}
