import { SIZE_WAY_WORDS } from '@jossel/core/sources';
import type { FoundStructure, ResolvedLength, SizeClaim, SizeSettings, SizeWay } from '@jossel/core/size';
import { printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../../app/store';
import { Button, OneOf, Quiet } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { NumberField } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { BasisMark } from '../../../controls/marks';
import { Block } from './Block';
import type { AxisKey } from './size-edits';

const WAY_NAMES: Record<SizeWay, string> = {
  overall: 'overall length',
  count: 'counted modules',
  structure: 'detected structure',
  lines: 'ruler line',
  resolution: 'resolution',
  card: 'target card',
  follows: 'from proportions',
};
const WAYS = (Object.keys(WAY_NAMES) as SizeWay[]).map((value) => ({ value, name: WAY_NAMES[value] }));
const ENDS = [
  { value: 'flush', name: 'edge to edge' },
  { value: 'joint', name: 'joint to joint' },
  { value: 'inside', name: 'cut at the ends' },
] as const;

/** A difference in percent with its sign; nothing but 0 is without one. */
function printDifference(share: number): string {
  const text = printNumber(100 * Math.abs(share), 2);
  return `${text === '0' ? '' : share > 0 ? '+' : '−'}${text} %`;
}

/** One axis: its length, how that is known, the figures of that way, and what the other ways say. */
export function AxisBlock({
  axis,
  name,
  settings,
  resolved,
  found,
  doubts,
  said,
  onRule,
  onTake,
}: {
  axis: AxisKey;
  name: string;
  settings: SizeSettings;
  resolved: ResolvedLength | null;
  found: FoundStructure['across'];
  /** Questions that the length raises. */
  doubts: readonly string[];
  said: string | null;
  onRule: (way: SizeWay) => void;
  onTake: (what: string, change: Partial<SizeSettings>, takenOut?: SizeWay) => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const mm = (v: number) => printLength(v, units, 1);
  const lower = name.toLowerCase();
  const overall = settings.overall[axis];
  const count = settings.count[axis];
  const structure = settings.structure[axis];
  /** Changes what one way says of this axis. */
  const put = <W extends 'overall' | 'count' | 'structure'>(
    what: string,
    way: W,
    value: SizeSettings[W][AxisKey],
  ) => onTake(`${axis} ${what}`, { [way]: { ...settings[way], [axis]: value } });
  return (
    <Block aria-label={name}>
      <h3>{name}</h3>
      {resolved && (
        <div className="result">
          <BasisMark basis={resolved.basis} />
          <span>
            <strong>{mm(resolved.mm)}</strong>{' '}
            <Quiet>
              ± {mm(resolved.toleranceMm)}, {resolved.from}
            </Quiet>
          </span>
        </div>
      )}
      <Choice label="Source" value={settings.ruling[axis]} options={WAYS} onChange={onRule} />
      {said && <p role="alert">{said}</p>}
      {overall && (
        <FigureField
          label={`Overall ${lower}`}
          figure={overall}
          unit="mm"
          min={0.001}
          max={1e6}
          onChange={(next) => put('overall', 'overall', next)}
        />
      )}
      {count && (
        <Count
          name={lower}
          count={count}
          onChange={(what, part) => put(what, 'count', { ...count, ...part })}
        />
      )}
      {structure && (
        <>
          <NumberField
            label="Periods in the frame"
            value={structure.periods}
            unit="×"
            min={0.5}
            max={100000}
            digits={3}
            onChange={(periods) => put('periods', 'structure', { ...structure, periods })}
          />
          <FigureField
            label="Pitch of one period"
            figure={structure.pitchMm}
            unit="mm"
            min={0.001}
            max={1e6}
            onChange={(pitchMm) => put('pitch', 'structure', { ...structure, pitchMm })}
          />
        </>
      )}
      {resolved && resolved.claims.length > 1 && (
        <CrossCheck
          name={lower}
          ruling={resolved}
          print={mm}
          onTakeOut={(way) => onTake(`${axis} without`, { [way]: { ...settings[way], [axis]: null } }, way)}
        />
      )}
      {found && !structure && (
        <Quiet>
          {printNumber(found.count, 2)} periods found, seen in {printNumber(100 * found.confidence, 0)} % of
          the picture
        </Quiet>
      )}
      {doubts.map((question) => (
        <p key={question}>{question}</p>
      ))}
    </Block>
  );
}

type CountOf = NonNullable<SizeSettings['count']['across']>;

/** Count × module with joints. */
function Count({
  name,
  count,
  onChange,
}: {
  name: string;
  count: CountOf;
  onChange: (what: string, part: Partial<CountOf>) => void;
}) {
  return (
    <>
      <div className="three">
        <NumberField
          label="Count"
          value={count.modules}
          unit="×"
          min={1}
          max={100000}
          whole
          onChange={(modules) => onChange('count', { modules })}
        />
        <NumberField
          label="Joint"
          value={count.jointMm}
          unit="mm"
          min={0}
          max={1000}
          onChange={(jointMm) => onChange('joint', { jointMm })}
        />
      </div>
      <FigureField
        label="Module"
        figure={count.moduleMm}
        unit="mm"
        min={0.001}
        max={1e6}
        onChange={(moduleMm) => onChange('module', { moduleMm })}
      />
      <OneOf
        label={`Where the count of the ${name} begins and ends`}
        value={count.ends}
        options={ENDS}
        onChange={(ends) => onChange('ends', { ends })}
      />
      {count.ends === 'inside' && (
        <div className="three">
          {(['before', 'after'] as const).map((end) => (
            <NumberField
              key={end}
              label={`Part ${end}`}
              value={count[end]}
              unit="×"
              min={0}
              max={1}
              onChange={(v) => onChange(end, { [end]: v })}
            />
          ))}
        </div>
      )}
    </>
  );
}

const ownWay = (claim: SizeClaim): 'overall' | 'count' | 'structure' | null =>
  claim.way === 'overall' || claim.way === 'count' || claim.way === 'structure' ? claim.way : null;

/** What the ways that do not rule say, and by how much they differ. */
function CrossCheck({
  name,
  ruling,
  print,
  onTakeOut,
}: {
  name: string;
  ruling: ResolvedLength;
  print: (mm: number) => string;
  onTakeOut: (way: 'overall' | 'count' | 'structure') => void;
}) {
  return (
    <table aria-label={`Cross-check of the ${name}`}>
      <tbody>
        {ruling.claims.slice(1).map((claim) => {
          const own = ownWay(claim);
          return (
            <tr key={claim.way}>
              <td>{SIZE_WAY_WORDS[claim.way].replace(/^./, (l) => l.toUpperCase())}</td>
              <td>{print(claim.mm)}</td>
              <td>
                <strong>{printDifference(claim.mm / ruling.mm - 1)}</strong>
              </td>
              <td>
                {own && (
                  <Button
                    weight="quiet"
                    aria-label={`Remove ${SIZE_WAY_WORDS[own]}`}
                    onPress={() => onTakeOut(own)}
                  >
                    remove
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
