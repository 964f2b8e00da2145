import type { Category } from '@jossel/core/finish';
import type { Sample } from '../app/api';

/** What a new finish is proposed to be: from the file's name, what is known of its origin, and what the picture looks like. */

/** Words by which suppliers and photographers call things of a category, whole or as part of a compound. */
const WORDS: readonly (readonly [Category, RegExp])[] = [
  ['brick', /brick|clinker|klinker|paver/],
  ['ceramic', /tile|ceramic|porcelain|stoneware|terracotta|encaustic|mosaic|glaze/],
  [
    'timber',
    /timber|wood|plank|board|parquet|veneer|shingle|cladding|(^|[^a-z])(ash|oak|beech|larch|pine|walnut|elm|maple|cherry|birch|strip)([^a-z]|$)/,
  ],
  [
    'textile',
    /cloth|weav|woven|linen|twill|hopsack|herringbone|felt|wool|cotton|carpet|velvet|fabric|tweed|sisal/,
  ],
  ['resilient', /linoleum|rubber|vinyl|cork|resilient/],
  ['plaster', /plaster|render|limewash|stucco|gypsum|distemper|paint/],
  ['metal', /zinc|metal|steel|brass|copper|alumin|bronze|iron|chrome|patina/],
  ['glass', /(^|[^a-z])(glass|pane|panes|glazing)([^a-z]|$)/],
  ['concrete', /concrete|screed|terrazzo|cement/],
  ['stone', /stone|slab|marble|granite|slate|travertine|basalt|gravel|cobble|sett|flag|pebble|quartz/],
];

/** A category, and what in the picture speaks for it where no name says so. */
export interface LikelyCategory {
  category: Category;
  shows: string | null;
}

/**
 * The category whose words stand in the name of a file or its origin; the name of the file counts first. Where none do, the one
 * that the picture looks like.
 */
export function likelyCategory({ report, ...sample }: Named & Pick<Sample, 'report'>): LikelyCategory {
  const category = namedCategory(sample);
  if (category) return { category, shows: null };
  return report.looksLike ?? { category: 'other', shows: null };
}

type Named = Pick<Sample, 'fileName' | 'origin'>;

function namedCategory(sample: Named): Category | null {
  const { note, line, supplier } = sample.origin;
  for (const text of [sample.fileName, note, line, supplier]) {
    const words = text.toLowerCase().replace(/[_-]+/g, ' ');
    const found = WORDS.find(([, rule]) => rule.test(words));
    if (found) return found[0];
  }
  return null;
}

/** What a finish of this sample may be called: as its product, or as its file. */
export const likelyName = (sample: Pick<Sample, 'fileName' | 'origin' | 'cameFrom'>): string =>
  (sample.cameFrom !== 'file' && sample.origin.note) ||
  sample.fileName
    .replace(/\.[^.]+$/, '')
    .replace(/[-_]+/g, ' ')
    .replace(/^./, (c) => c.toUpperCase());

/** What is made of a sample, as proposed or as typed. */
export interface Wish {
  name: string;
  category: Category;
}
export const wishFor = (sample: Sample): Wish => ({
  name: likelyName(sample),
  category: likelyCategory(sample).category,
});
