import type { Check } from '@jossel/core/surface';
import type { BenchState } from '../bench-slice';

/** Where a check is mended: what the Bench shows, and the field that takes the focus. */
export interface Place {
  state: Partial<BenchState>;
  /** Name of the field, as it is labelled; none: the section alone. */
  field?: string;
}

/** By the beginning of a check's code; the first that fits counts. */
const PLACES: readonly (readonly [RegExp, Place])[] = [
  [/^permission-/, { state: { section: 'sample', tool: 'report' }, field: 'Permission to use' }],
  [/^no-picture/, { state: { section: 'sample' } }],
  [/^generated-size/, { state: { section: 'size' }, field: 'Width' }],
  [/^(unlikely-\w+-across|size-width)/, { state: { section: 'size' }, field: 'How the width is known' }],
  [/^(unlikely-\w+-up|size-height)/, { state: { section: 'size' }, field: 'How the height is known' }],
  [/^lens-width/, { state: { section: 'size' }, field: 'How the width is known' }],
  [/^lens-height/, { state: { section: 'size' }, field: 'How the height is known' }],
  [/^(size-assumed|axes-differ)/, { state: { section: 'size' }, field: 'How the width is known' }],
  [/^target-worst/, { state: { section: 'colour', colourTool: 'balance' } }],
  [/^way-/, { state: { section: 'colour', colourTool: 'ways' } }],
  [/^colour-colour/, { state: { section: 'colour', colourTool: 'match' }, field: 'Colour' }],
  [
    /^(reflectance-|colour-lrv|too-|clipped-high)/,
    { state: { section: 'colour', colourTool: 'match' }, field: 'Light reflectance value' },
  ],
  [/^(out-of-gamut|colour-)/, { state: { section: 'colour', colourTool: 'match' } }],
  [/^asked-across/, { state: { section: 'repeat', repeatTool: 'way' }, field: 'Repeat, width' }],
  [/^asked-up/, { state: { section: 'repeat', repeatTool: 'way' }, field: 'Height' }],
  [
    /^elements-scaled/,
    {
      state: { section: 'repeat', repeatTool: 'sources' },
      field: 'Module in the repeat, against its true size',
    },
  ],
  [/^inferred/, { state: { section: 'repeat', repeatTool: 'sources' } }],
  [
    /^(seam-across|against-count-across|structure-cut-across|stretch\w*-across)/,
    { state: { section: 'repeat', repeatTool: 'way' }, field: 'Closing, horizontal' },
  ],
  [
    /^(seam-up|against-count-up|structure-cut-up|stretch\w*-up)/,
    { state: { section: 'repeat', repeatTool: 'way' }, field: 'Closing, vertical' },
  ],
  [/^hold-broken/, { state: { section: 'sample', tool: 'continuity-lines' } }],
  [/^pieces-broken/, { state: { section: 'repeat', repeatTool: 'way' } }],
  [/^layout-width/, { state: { section: 'layout' }, field: 'Width of a piece' }],
  [/^(layout-length|piece-)/, { state: { section: 'layout' }, field: 'Length of a piece' }],
  [/^(equal-neighbours|faces-repeat|turn-held)/, { state: { section: 'layout' } }],
  [/^joints-proud/, { state: { section: 'relief' }, field: 'Add joints' }],
  [/^joints-unseen/, { state: { section: 'relief' }, field: 'Depth of joints' }],
  [/^looks-printed/, { state: { section: 'relief' }, field: 'Depth' }],
  [/^(depth-assumed|too-steep|measured-at-other-size)/, { state: { section: 'relief' }, field: 'Depth' }],
  [/^gloss-/, { state: { section: 'response' }, field: 'Gloss at 60°' }],
];

export const placeOf = ({ code, section }: Pick<Check, 'code' | 'section'>): Place =>
  PLACES.find(([begins]) => begins.test(code))?.[1] ?? { state: { section } };

/** Sections of the ledger by the first step of the path of a setting. */
const SECTION_OF: Readonly<Record<string, Place['state']>> = {
  sources: { section: 'sample' },
  preparation: { section: 'sample' },
  generated: { section: 'sample' },
  colour: { section: 'colour' },
  repeat: { section: 'repeat' },
  layout: { section: 'layout' },
  weathering: { section: 'weathering' },
  relief: { section: 'relief' },
  response: { section: 'response' },
};

/** Where a setting is changed that a refusal names, by its path in the recipe; null: it names none. */
export function placeOfSetting(where: string): Place | null {
  const state = SECTION_OF[where.split('.')[0]!];
  if (!state) return null;
  return { state: where.startsWith('repeat.') ? { ...state, repeatTool: 'way' } : state };
}

/** How long a field may take to appear, ms: charts and panels are loaded when they are opened. */
const APPEARS_WITHIN_MS = 1500;

const nameOf = (element: Element): string =>
  element.getAttribute('aria-label') ?? ((element as HTMLInputElement).labels?.[0]?.textContent || '').trim();

/** Gives the focus to a field of the ledger, by its name, as soon as it is there. */
export function focusField(name: string | undefined): void {
  const began = performance.now();
  const look = () => {
    const ledger = document.querySelector('[aria-label="Ledger"]');
    const open = ledger?.querySelector('[aria-expanded="true"]') as HTMLElement | null;
    const named = [...(ledger?.querySelectorAll('input, textarea, [role="radiogroup"]') ?? [])].find(
      (element) => name !== undefined && nameOf(element) === name,
    );
    const field = named?.matches('[role="radiogroup"]')
      ? named.querySelector<HTMLElement>('[aria-checked="true"]')
      : (named as HTMLElement | undefined);
    const late = performance.now() - began > APPEARS_WITHIN_MS;
    if (field || late || name === undefined) {
      const target = field ?? open;
      target?.focus({ preventScroll: true });
      target?.scrollIntoView({ block: 'center' });
      if (target || late) return;
    }
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}
