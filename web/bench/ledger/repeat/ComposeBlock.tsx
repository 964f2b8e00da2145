import type { ComposeSettings, RepeatSettings, Turning } from '@jossel/core/repeat';
import { Tick } from '../../../controls/amounts';
import { OneOf, Quiet, Row } from '../../../controls/basics';
import { NumberField } from '../../../controls/fields';

const CLOSED: readonly { value: ComposeSettings['closed']; name: string }[] = [
  { value: 'both', name: 'both ways' },
  { value: 'across', name: 'across only' },
  { value: 'up', name: 'up only' },
];
const TURNS: readonly { value: Turning; name: string }[] = [
  { value: 'none', name: 'not turned' },
  { value: 'half', name: 'half turns' },
  { value: 'quarter', name: 'quarter turns' },
];

const ENDS: readonly { value: ComposeSettings['ends']; name: string }[] = [
  { value: 'joints', name: 'boards end in joints' },
  { value: 'anywhere', name: 'anywhere' },
];

/** Size of a repeat that is composed anew, and how copies of the sample may lie in it. */
export function ComposeBlock({
  settings,
  structured,
  courses,
  boards,
  change,
}: {
  settings: RepeatSettings;
  /** Copies keep to a structure. */
  structured: boolean;
  /** The structure is one of courses: boards may lie in them. */
  courses: boolean;
  /** It is laid of whole boards. */
  boards: boolean;
  change: (what: string, part: Partial<RepeatSettings>) => void;
}) {
  const { compose } = settings;
  const set = (part: Partial<ComposeSettings>) =>
    change(`compose ${Object.keys(part).join()}`, { compose: { ...compose, ...part } });
  return (
    <>
      <Row style={{ flexWrap: 'nowrap', alignItems: 'end' }}>
        <NumberField
          label="Repeat, width"
          unit="mm"
          value={compose.widthMm}
          min={1}
          max={1000000}
          digits={1}
          onChange={(widthMm) => set({ widthMm })}
          onClear={() => set({ widthMm: null })}
        />
        <NumberField
          label="Height"
          unit="mm"
          value={compose.heightMm}
          min={1}
          max={1000000}
          digits={1}
          onChange={(heightMm) => set({ heightMm })}
          onClear={() => set({ heightMm: null })}
        />
      </Row>
      <Quiet>Empty: as large as the sample. A structure takes the nearest whole number of periods.</Quiet>
      {structured && (compose.widthMm !== null || compose.heightMm !== null) && (
        <NumberField
          label="Stretch at most, to fill that with whole periods"
          unit="%"
          value={100 * compose.stretchMost}
          min={0}
          max={10}
          digits={1}
          onChange={(percent) => set({ stretchMost: percent / 100 })}
        />
      )}
      <OneOf
        label="Which edges meet"
        value={compose.closed}
        options={CLOSED}
        onChange={(closed) => set({ closed })}
      />
      {courses && (
        <OneOf
          label="Where boards end"
          value={compose.ends}
          options={ENDS}
          onChange={(ends) => set({ ends })}
        />
      )}
      {!boards && <CopiesBlock compose={compose} structured={structured} set={set} />}
    </>
  );
}

/** How copies of the sample may lie in the repeat. */
function CopiesBlock({
  compose,
  structured,
  set,
}: {
  compose: ComposeSettings;
  structured: boolean;
  set: (part: Partial<ComposeSettings>) => void;
}) {
  return (
    <>
      <NumberField
        label="Length of a copy"
        unit="mm"
        value={compose.copyMm}
        min={0.1}
        max={1000000}
        digits={1}
        onChange={(copyMm) => set({ copyMm })}
        onClear={() => set({ copyMm: null })}
      />
      <OneOf
        label="What copies may be turned by"
        value={compose.turning}
        options={TURNS}
        onChange={(turning) => set({ turning })}
      />
      <Tick
        name="Copies may be mirrored"
        value={compose.mirrored}
        onChange={(mirrored) => set({ mirrored })}
      />
      {(compose.turning !== 'none' || compose.mirrored) && (
        <Quiet>
          {structured
            ? 'What keeps to a structure lies as the sample lies; it is not turned.'
            : 'Turn only what has no grain and was lit evenly: light from one side would change sides.'}
        </Quiet>
      )}
    </>
  );
}
