import type { ComposedSettings, RepeatPlan, RepeatSettings, Turning } from '@jossel/core/repeat';
import { printLength } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { Tick } from '../../../controls/amounts';
import { OneOf, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';

const CLOSED: readonly { value: ComposedSettings['closed']; name: string }[] = [
  { value: 'both', name: 'both ways' },
  { value: 'across', name: 'across only' },
  { value: 'up', name: 'up only' },
];
const TURNS: readonly { value: Turning; name: string }[] = [
  { value: 'none', name: 'not turned' },
  { value: 'half', name: 'half turns' },
  { value: 'quarter', name: 'quarter turns' },
];

/** Size of a repeat that is composed anew, and how copies of the sample may lie in it. */
export function ComposeBlock({
  settings,
  structured,
  ofBoards,
  plan,
  change,
}: {
  settings: RepeatSettings;
  /** Copies keep to a structure. */
  structured: boolean;
  /** It is laid of whole boards. */
  ofBoards: boolean;
  plan: RepeatPlan | null;
  change: (what: string, part: Partial<RepeatSettings>) => void;
}) {
  const { composed } = settings;
  const set = (part: Partial<ComposedSettings>) =>
    change(`composed ${Object.keys(part).join()}`, { composed: { ...composed, ...part } });
  return (
    <>
      <Row style={{ flexWrap: 'nowrap', alignItems: 'end' }}>
        <NumberField
          label="Repeat, width"
          unit="mm"
          value={composed.widthMm}
          min={1}
          max={1000000}
          digits={1}
          onChange={(widthMm) => set({ widthMm })}
          onClear={() => set({ widthMm: null })}
        />
        <NumberField
          label="Height"
          unit="mm"
          value={composed.heightMm}
          min={1}
          max={1000000}
          digits={1}
          onChange={(heightMm) => set({ heightMm })}
          onClear={() => set({ heightMm: null })}
        />
      </Row>
      <Asked composed={composed} plan={plan} />
      {structured && (composed.widthMm !== null || composed.heightMm !== null) && (
        <NumberField
          label="Stretch at most, to fill that with whole periods"
          unit="%"
          value={100 * composed.stretchMost}
          min={0}
          max={10}
          digits={1}
          onChange={(percent) => set({ stretchMost: percent / 100 })}
        />
      )}
      <OneOf
        label="Which edges meet"
        value={composed.closed}
        options={CLOSED}
        onChange={(closed) => set({ closed })}
      />
      <CopiesBlock composed={composed} structured={structured} ofBoards={ofBoards} set={set} />
    </>
  );
}

/** What becomes of the size that was asked for. */
function Asked({ composed, plan }: { composed: ComposedSettings; plan: RepeatPlan | null }) {
  const units = useAppSelector((s) => s.settings.units);
  const mm = (v: number) => printLength(v, units, 1);
  const sides = plan
    ? ([
        ['width', composed.widthMm, plan.repeatMm.width, plan.across.modules],
        ['height', composed.heightMm, plan.repeatMm.height, plan.up.modules],
      ] as const)
    : [];
  const differ = sides.filter(([, asked, got]) => asked !== null && Math.abs(asked - got) > 0.05);
  if (differ.length === 0)
    return (
      <Quiet>Empty: as large as the sample. A structure takes the nearest whole number of periods.</Quiet>
    );
  return (
    <p role="status">
      {differ.map(([name, asked, got, periods]) => (
        <span key={name}>
          Asked for a {name} of {mm(asked!)}; {mm(got)} closes, with {periods} whole{' '}
          {periods === 1 ? 'period' : 'periods'}.{' '}
        </span>
      ))}
    </p>
  );
}

/** How copies of the sample may lie in the repeat. */
function CopiesBlock({
  composed,
  structured,
  ofBoards,
  set,
}: {
  composed: ComposedSettings;
  structured: boolean;
  ofBoards: boolean;
  set: (part: Partial<ComposedSettings>) => void;
}) {
  return (
    <>
      {!ofBoards && (
        <NumberField
          label="Patch size"
          unit="mm"
          value={composed.copyMm}
          min={0.1}
          max={1000000}
          digits={1}
          onChange={(copyMm) => set({ copyMm })}
          onClear={() => set({ copyMm: null })}
        />
      )}
      <OneOf
        label="What copies may be turned by"
        value={composed.turning}
        options={TURNS}
        onChange={(turning) => set({ turning })}
      />
      <Tick
        name="Copies may be mirrored"
        value={composed.mirrored}
        onChange={(mirrored) => set({ mirrored })}
      />
      {(composed.turning !== 'none' || composed.mirrored) && (
        <Quiet>{wordsOnTurns(structured, ofBoards)}</Quiet>
      )}
    </>
  );
}

function wordsOnTurns(structured: boolean, ofBoards: boolean): string {
  if (ofBoards) return 'Boards stay in their courses: they are turned by half turns at most.';
  return structured
    ? 'What keeps to a structure lies as the sample lies; it is not turned.'
    : 'Turn only what has no grain and was lit evenly: light from one side would change sides.';
}
