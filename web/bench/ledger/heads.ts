import { basisOfFinish, type Recipe } from '@jossel/core/finish';
import { basesIn, familyOf } from '@jossel/core/generate';
import { bondOf } from '@jossel/core/layout';
import { depthOf, reliefRangeMm } from '@jossel/core/relief';
import type { Section } from '@jossel/core/surface';
import { printArea, printLength, printNumber, weakestBasis, type Basis } from '@jossel/core/units';
import type { Finish } from '../../app/api';
import type { Settings } from '../../app/settings-slice';
import type { Drawn } from '../../workers/render.worker';
import type { Leading } from '../open/leading';

/** What the heads of the ledger are made from. */
export interface ForHeads {
  recipe: Recipe;
  leading: Leading;
  /** Of the drawn finish; null: it is not drawn yet. */
  report: Drawn['report'] | null;
  revisions: Finish['revisions'];
  units: Settings['units'];
}

/** A section in one line. */
export interface Head {
  /** What its figures rest on; none: they are not measured. */
  basis?: Basis | undefined;
  figures: string;
  remark?: string;
}

/** The sections of the ledger: what each is called, and its line. */
export const HEADS: Record<Section, { name: string; head: (of: ForHeads) => Head }> = {
  sample: {
    name: 'Sample',
    head: ({ recipe, leading }) => ({
      basis: basisOfGenerated(recipe),
      figures: sampleWords(recipe, leading),
    }),
  },
  size: {
    name: 'Size',
    head: ({ recipe: { generated }, leading: { geometry }, units }) => {
      if (!geometry) return { figures: generated ? printArea(generated.repeatMm, units) : '' };
      const { width, height } = geometry.size;
      return {
        basis: weakestBasis(width.basis, height.basis),
        figures: printArea({ width: width.mm, height: height.mm }, units),
      };
    },
  },
  colour: {
    name: 'Colour',
    head: ({ recipe, report }) => ({ basis: basisOfFinish(recipe), figures: colourWords(recipe, report) }),
  },
  repeat: {
    name: 'Repeat',
    head: ({ recipe, leading: { plan }, report, units }) => ({
      figures: plan ? printArea(plan.repeatMm, units) : recipe.generated && report ? 'closes by itself' : '',
    }),
  },
  layout: {
    name: 'Layout',
    head: ({ recipe: { layout }, units }) => ({
      basis: layout ? weakestBasis(layout.piece.lengthMm.basis, layout.piece.widthMm.basis) : undefined,
      figures: layoutWords(layout, units),
    }),
  },
  weathering: {
    name: 'Weathering',
    head: ({ recipe }) => ({ figures: weatheringWords(recipe) }),
  },
  relief: {
    name: 'Relief',
    head: ({ recipe, report, units }) => ({
      basis: basisOfDepth(recipe),
      figures: `${printLength(report ? reliefRangeMm(report) : depthOf(recipe.relief), units, 2)} deep`,
    }),
  },
  response: {
    name: 'Response',
    head: ({ recipe: { response } }) => ({
      basis: response.glossGu.basis,
      figures: `${printNumber(response.glossGu.value, 1)} GU${response.base.kind === 'dielectric' ? '' : `, ${response.base.kind}`}`,
    }),
  },
  revision: {
    name: 'Revision',
    head: ({ revisions }) => {
      const last = revisions.at(-1);
      if (!last) return { figures: 'none issued' };
      return { figures: last.letter, remark: last.sameAsDraft ? 'as drawn' : 'draft differs' };
    },
  },
};

/** What the settings of a generated finish rest on. */
const basisOfGenerated = ({ generated }: Recipe): Basis | undefined =>
  generated ? weakestBasis(...basesIn(familyOf(generated.kind).settings, generated)) : undefined;

/** What the depth of the relief rests on: the weakest of its contributions. */
const basisOfDepth = ({ relief, generated }: Recipe): Basis =>
  weakestBasis(
    ...relief.contributions.map((c) => c.depthMm.basis),
    ...(generated ? basesIn(familyOf(generated.kind).settings, generated) : []),
  );

/** The samples in a few words: the file of the leading one, and what was done to it. */
function sampleWords({ sources, generated }: Recipe, { source, sample }: Leading): string {
  if (generated) return `generated, ${familyOf(generated.kind).name.toLowerCase()}`;
  if (!source || !sample) return 'none yet';
  const { frame, bowLines, areas } = source.preparation;
  const done = [
    sources.length > 1 ? `${sources.length} pictures` : '',
    frame || bowLines.length > 0 ? 'straightened' : '',
    areas.length > 0 ? `${areas.length} picked` : '',
    source.maps.length > 0 ? `${source.maps.length + 1} maps` : '',
  ].filter(Boolean);
  return [...done, sample.fileName].join(', ');
}

function colourWords({ colour }: Recipe, report: ForHeads['report']): string {
  if (!report) return colour.lrv ? `LRV ${printNumber(colour.lrv.value, 1)}` : '';
  const ways = colour.ways.length > 0 ? `, ${colour.ways.length} colourways` : '';
  return `LRV ${printNumber(report.lrv, 1)}${ways}`;
}

/** The layout in a few words: its bond, and the size of its pieces. */
function layoutWords(layout: Recipe['layout'], units: Settings['units']): string {
  if (!layout) return 'none';
  const { lengthMm, widthMm } = layout.piece;
  const { name, sized } = bondOf(layout.bond.kind);
  const size =
    sized === 'both'
      ? printArea({ width: lengthMm.value, height: widthMm.value }, units)
      : printLength(widthMm.value, units, 1);
  return `${name}, ${size}`;
}

/** The layers in a few words. */
function weatheringWords({ weathering }: Recipe): string {
  const used = weathering.filter((layer) => !layer.off);
  return used.length === 0 ? 'none' : used.map(({ name }) => name.toLowerCase()).join(', ');
}
