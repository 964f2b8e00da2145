import { SECTIONS } from '@jossel/core/surface';
import type { MapName } from '@jossel/core/finish';
import { FIELDS, LOOKS, lookOf, type BenchState } from '../bench-slice';
import type { PlateActions } from './plate-in-view';

/** The keys of the Bench: what each does, in one list for the keyboard, the sheet of keys and the tips. */

/** What a key works on. */
export interface KeyContext {
  bench: BenchState;
  /** Maps the finish has. */
  maps: readonly MapName[];
  plate: PlateActions | null;
  change: (change: Partial<BenchState>) => void;
  undo: () => void;
  redo: () => void;
  toFirstCheck: () => void;
  showSheet: () => void;
}

export interface BenchKey {
  /** As `KeyboardEvent.key` gives it, lower case; "ctrl+" before it for the control or command key. */
  keys: readonly string[];
  /** As it is printed on the key cap. */
  caps: string;
  name: string;
  group: 'Ledger' | 'Plate' | 'Sheet' | 'Work';
  run: (context: KeyContext) => void;
}

/** The one after in a row that begins again at its end. */
const after = <T>(row: readonly T[], now: T, by = 1): T =>
  row[(row.indexOf(now) + by + row.length) % row.length]!;

/** The section as the ledger names it. */
const nameOfSection = (section: string) => `${section[0]!.toUpperCase()}${section.slice(1)}`;

/** What Escape leaves first: what is being drawn, then what is chosen, what fills the sheet, the section. */
export function leave(bench: BenchState): Partial<BenchState> | null {
  if (bench.drawing || bench.dropper || bench.probe) return { drawing: null, dropper: null, probe: false };
  if (bench.selected) return { selected: null };
  if (bench.filled) return { filled: null };
  return bench.section ? { section: null } : null;
}

export const BENCH_KEYS: readonly BenchKey[] = [
  ...SECTIONS.map((section, k): BenchKey => ({
    keys: [String(k + 1)],
    caps: String(k + 1),
    name: `Open or close ${nameOfSection(section)}`,
    group: 'Ledger',
    run: ({ bench, change }) => change({ section: bench.section === section ? null : section }),
  })),
  {
    keys: ['c'],
    caps: 'C',
    name: 'Go to the first check',
    group: 'Ledger',
    run: ({ toFirstCheck }) => toFirstCheck(),
  },
  {
    keys: ['+', '='],
    caps: '+',
    name: 'Next larger scale',
    group: 'Plate',
    run: ({ plate }) => plate?.zoom(true),
  },
  {
    keys: ['-', '−'],
    caps: '−',
    name: 'Next smaller scale',
    group: 'Plate',
    run: ({ plate }) => plate?.zoom(false),
  },
  { keys: ['w'], caps: 'W', name: 'The whole in view', group: 'Plate', run: ({ plate }) => plate?.fit() },
  {
    keys: ['t'],
    caps: 'T',
    name: 'True size, 1:1',
    group: 'Plate',
    run: ({ change }) => change({ scale: 1 }),
  },
  {
    keys: ['.'],
    caps: '.',
    name: 'Next map',
    group: 'Plate',
    run: ({ bench, maps, change }) => change({ map: after(maps, bench.map), raking: false }),
  },
  {
    keys: [','],
    caps: ',',
    name: 'Previous map',
    group: 'Plate',
    run: ({ bench, maps, change }) => change({ map: after(maps, bench.map, -1), raking: false }),
  },
  {
    keys: ['v'],
    caps: 'V',
    name: 'As received, straightened, repeat',
    group: 'Plate',
    run: ({ bench, change }) => change({ look: after(LOOKS, lookOf(bench)), drawing: null }),
  },
  {
    keys: ['n'],
    caps: 'N',
    name: 'More repeats; after the wall, one',
    group: 'Plate',
    run: ({ bench, change }) => change({ field: after(FIELDS, bench.field) }),
  },
  {
    keys: ['e'],
    caps: 'E',
    name: 'Edges in view',
    group: 'Plate',
    run: ({ bench, change }) => change({ edgesAt: bench.edgesAt ? null : [0.5, 0.5] }),
  },
  {
    keys: ['l'],
    caps: 'L',
    name: 'Grid lines over the sample',
    group: 'Plate',
    run: ({ bench, change }) => change({ grid: !bench.grid }),
  },
  {
    keys: ['p'],
    caps: 'P',
    name: 'The plate fills the sheet, and back',
    group: 'Sheet',
    run: ({ bench, change }) => change({ filled: bench.filled === 'plate' ? null : 'plate' }),
  },
  {
    keys: ['o'],
    caps: 'O',
    name: 'The proof fills the sheet, and back',
    group: 'Sheet',
    run: ({ bench, change }) => change({ filled: bench.filled === 'proof' ? null : 'proof' }),
  },
  { keys: ['ctrl+z'], caps: 'Ctrl Z', name: 'Undo', group: 'Work', run: ({ undo }) => undo() },
  {
    keys: ['ctrl+y', 'ctrl+shift+z'],
    caps: 'Ctrl Y',
    name: 'Redo',
    group: 'Work',
    run: ({ redo }) => redo(),
  },
  {
    keys: ['escape'],
    caps: 'Esc',
    name: 'Leave what is being done; then the section',
    group: 'Work',
    run: ({ bench, change }) => {
      const next = leave(bench);
      if (next) change(next);
    },
  },
  { keys: ['?'], caps: '?', name: 'This sheet of keys', group: 'Work', run: ({ showSheet }) => showSheet() },
];

/** What an event is called in the list. */
export function nameOfKey(e: { key: string; ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): string {
  const key = e.key.toLowerCase();
  if (!(e.ctrlKey || e.metaKey)) return key;
  return e.shiftKey ? `ctrl+shift+${key}` : `ctrl+${key}`;
}

export const keyNamed = (name: string): BenchKey | undefined => BENCH_KEYS.find((k) => k.keys.includes(name));

/** A tip with the key that does the same. */
export const withKey = (words: string, name: string): string => {
  const key = BENCH_KEYS.find((k) => k.keys.includes(name));
  return key ? `${words} (${key.caps})` : words;
};
