import styled from 'styled-components';
import { resolveSample, SIZE_WAY_WORDS, type Recipe, type SampleGeometry } from '@jossel/core/finish';
import {
  doubtsAboutSize,
  sizeOfLines,
  type ResolvedSize,
  type SizeSettings,
  type SizeWay,
} from '@jossel/core/size';
import { figure, printLength, printNumber } from '@jossel/core/units';
import { useState } from 'react';
import type { Sample } from '../../../app/api';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, OneOf, Quiet } from '../../../controls/basics';
import { FigureField, NumberField } from '../../../controls/fields';
import { BasisMark } from '../../../controls/marks';
import { benchSlice } from '../../bench-slice';
import { infoOf } from '../../use-drawn';
import { sampleWorker } from '../../use-sample';
import type { StructureSearch } from '../../use-structure';
import { useGeometryChange } from '../use-change';
import { ResolutionField } from './ResolutionField';

const Block = styled.section`
  display: grid;
  gap: 8px;
  padding-bottom: 10px;
  border-bottom: 1px solid ${({ theme }) => theme.line};
  h3 {
    font-size: 13px;
    font-weight: 600;
  }
  .three {
    display: grid;
    grid-template-columns: 1fr 1fr 1fr;
    gap: 8px;
  }
  .result {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  table {
    width: 100%;
    font-size: 12px;
  }
  td {
    padding: 2px 0;
  }
  td + td {
    text-align: right;
  }
`;

const WAY_NAMES: Record<SizeWay, string> = {
  overall: 'overall',
  count: 'counted',
  structure: 'found',
  lines: 'ruler',
  resolution: 'resolution',
  card: 'card',
  follows: 'follows',
};
const WAYS = (Object.keys(WAY_NAMES) as SizeWay[]).map((value) => ({ value, name: WAY_NAMES[value] }));
type AxisKey = 'across' | 'up';
const AXES = [
  ['across', 'Width', 'up'],
  ['up', 'Height', 'across'],
] as const;

/** The true size of the frame: everything that is known of it, which of it rules, and how the rest agrees. */
export function SizeSection({
  recipe,
  sample,
  category,
  geometry,
  search,
}: {
  recipe: Recipe;
  sample: Sample;
  category: string;
  geometry: SampleGeometry | null;
  search: StructureSearch;
}) {
  const dispatch = useAppDispatch();
  const change = useGeometryChange(recipe, sample, 'size');
  const units = useAppSelector((s) => s.settings.units);
  const drawing = useAppSelector((s) => s.bench.drawing);
  const selected = useAppSelector((s) => s.bench.selected);
  const [said, setSaid] = useState<{ axis: AxisKey | 'card'; text: string } | null>(null);
  const settings = recipe.size;
  const size: ResolvedSize | null = geometry?.size ?? null;
  const doubts = size ? doubtsAboutSize(size, category) : [];
  const mm = (v: number, digits = 1) => printLength(v, units, digits);

  /** Takes new settings over if a size follows from them. */
  function take(what: string, next: Partial<SizeSettings>): boolean {
    // A size that was only assumed is given up once something better rules.
    const all = { ...settings, ...next };
    const before = settings.ruling;
    for (const axis of ['across', 'up'] as const)
      if (
        before[axis] === 'overall' &&
        all.ruling[axis] !== 'overall' &&
        all.overall[axis]?.basis === 'assumed'
      )
        next = { ...next, overall: { ...(next.overall ?? settings.overall), [axis]: null } };
    try {
      resolveSample({ ...recipe, size: { ...settings, ...next } }, sample);
    } catch (error) {
      setSaid({ axis: 'card', text: (error as Error).message });
      return false;
    }
    setSaid(null);
    change(what, next);
    return true;
  }

  async function findCard(): Promise<SizeSettings['card']> {
    setSaid({ axis: 'card', text: 'Looking for the card …' });
    const card = await sampleWorker().card(infoOf(sample));
    if (!card)
      setSaid({
        axis: 'card',
        text: 'No target card is seen with all four of its ring marks. Take the picture with the whole card in it, or draw a ruler line.',
      });
    return card && { marks: card.marks.map((m) => [...m]) as never };
  }

  function rule(axis: AxisKey, name: string, other: AxisKey, way: SizeWay): void {
    const rounded = (axisSize: { mm: number } | undefined) => Number((axisSize?.mm ?? 1000).toFixed(2));
    const now = axis === 'across' ? size?.width : size?.height;
    const ruling = { ...settings.ruling, [axis]: way };
    const say = (text: string) => setSaid({ axis, text });
    if (way === 'overall')
      take(`${axis} way`, {
        ruling,
        overall: {
          ...settings.overall,
          [axis]: settings.overall[axis] ?? figure(rounded(now), 'mm', 'measured'),
        },
      });
    else if (way === 'count')
      take(`${axis} way`, {
        ruling,
        count: {
          ...settings.count,
          [axis]: settings.count[axis] ?? {
            modules: 1,
            moduleMm: figure(rounded(now), 'mm', 'measured'),
            jointMm: 0,
            ends: 'flush',
            before: 0,
            after: 0,
          },
        },
      });
    else if (way === 'structure') {
      const found = search.found?.[axis];
      if (!settings.structure[axis] && !found)
        return say(
          search.busy
            ? 'The structure is still being looked for.'
            : `No regular structure was found along the ${name.toLowerCase()}; count or measure instead.`,
        );
      take(`${axis} way`, {
        ruling,
        structure: {
          ...settings.structure,
          [axis]: settings.structure[axis] ?? {
            periods: Number(found!.count.toFixed(3)),
            pitchMm: figure(Number((rounded(now) / found!.count).toFixed(1)), 'mm', 'assumed'),
          },
        },
      });
    } else if (way === 'lines') {
      if (settings.lines.length === 0) {
        dispatch(benchSlice.actions.changed({ drawing: 'ruler', look: null }));
        return say('Draw a ruler line on the plate first, between two points of known distance.');
      }
      take(`${axis} way`, { ruling });
    } else if (way === 'resolution')
      take(`${axis} way`, {
        ruling,
        resolution:
          settings.resolution ??
          figure(
            Number((sample.pxPerMm ?? size?.pxPerMm.x ?? 1).toFixed(4)),
            'px/mm',
            sample.pxPerMm ? 'inferred' : 'assumed',
          ),
      });
    else if (way === 'card') {
      if (settings.card) take(`${axis} way`, { ruling });
      else void findCard().then((card) => card && take(`${axis} way`, { ruling, card }));
    } else {
      // One axis at least has a length of its own.
      const alone = settings.ruling[other] === 'follows';
      const length = other === 'across' ? size?.width : size?.height;
      take(`${axis} way`, {
        ruling: { ...ruling, ...(alone ? { [other]: 'overall' } : {}) },
        ...(alone
          ? {
              overall: {
                ...settings.overall,
                [other]: settings.overall[other] ?? figure(rounded(length), 'mm', 'assumed'),
              },
            }
          : {}),
      });
    }
  }

  /** Takes a way out; an axis that it ruled follows the other one, or keeps its length as assumed. */
  function drop(
    what: string,
    next: Partial<SizeSettings>,
    way: SizeWay,
    axes: readonly AxisKey[] = ['across', 'up'],
  ) {
    const ruling = { ...settings.ruling };
    const overall = { ...settings.overall };
    for (const axis of axes) {
      if (ruling[axis] !== way) continue;
      const other = axis === 'across' ? 'up' : 'across';
      if (ruling[other] !== 'follows' && ruling[other] !== way) ruling[axis] = 'follows';
      else {
        ruling[axis] = 'overall';
        overall[axis] ??= figure(
          Number(((axis === 'across' ? size?.width.mm : size?.height.mm) ?? 1000).toFixed(2)),
          'mm',
          'assumed',
        );
      }
    }
    take(what, { ...next, ruling, overall });
  }

  function axis([key, name, other]: (typeof AXES)[number]) {
    const resolved = size ? (key === 'across' ? size.width : size.height) : null;
    const found = search.found?.[key];
    const count = settings.count[key];
    const overall = settings.overall[key];
    const structure = settings.structure[key];
    const setCount = (what: string, part: Partial<NonNullable<typeof count>>) =>
      take(`${key} ${what}`, { count: { ...settings.count, [key]: { ...count, ...part } } });
    return (
      <Block aria-label={name} key={key}>
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
        <OneOf
          label={`How the ${name.toLowerCase()} is known`}
          value={settings.ruling[key]}
          options={WAYS}
          onChange={(way) => rule(key, name, other, way)}
        />
        {said?.axis === key && <p role="alert">{said.text}</p>}
        {overall && (
          <FigureField
            label={`Overall ${name.toLowerCase()}`}
            figure={overall}
            unit="mm"
            min={0.001}
            max={1e6}
            onChange={(next) => take(`${key} overall`, { overall: { ...settings.overall, [key]: next } })}
          />
        )}
        {count && (
          <>
            <div className="three">
              <NumberField
                label="Count"
                value={count.modules}
                unit="×"
                min={1}
                max={100000}
                whole
                onChange={(modules) => setCount('count', { modules })}
              />
              <NumberField
                label="Joint"
                value={count.jointMm}
                unit="mm"
                min={0}
                max={1000}
                onChange={(jointMm) => setCount('joint', { jointMm })}
              />
            </div>
            <FigureField
              label="Module"
              figure={count.moduleMm}
              unit="mm"
              min={0.001}
              max={1e6}
              onChange={(moduleMm) => setCount('module', { moduleMm })}
            />
            <OneOf
              label={`Where the count of the ${name.toLowerCase()} begins and ends`}
              value={count.ends}
              options={[
                { value: 'flush', name: 'edge to edge' },
                { value: 'joint', name: 'joint to joint' },
                { value: 'inside', name: 'inside modules' },
              ]}
              onChange={(ends) => setCount('ends', { ends })}
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
                    onChange={(v) => setCount(end, { [end]: v })}
                  />
                ))}
              </div>
            )}
          </>
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
              onChange={(periods) =>
                take(`${key} periods`, {
                  structure: { ...settings.structure, [key]: { ...structure, periods } },
                })
              }
            />
            <FigureField
              label="Pitch of one period"
              figure={structure.pitchMm}
              unit="mm"
              min={0.001}
              max={1e6}
              onChange={(pitchMm) =>
                take(`${key} pitch`, {
                  structure: { ...settings.structure, [key]: { ...structure, pitchMm } },
                })
              }
            />
          </>
        )}
        {resolved && resolved.claims.length > 1 && (
          <table aria-label={`Cross-check of the ${name.toLowerCase()}`}>
            <tbody>
              {resolved.claims.slice(1).map((c) => (
                <tr key={c.way}>
                  <td>{SIZE_WAY_WORDS[c.way].replace(/^./, (l) => l.toUpperCase())}</td>
                  <td>{mm(c.mm)}</td>
                  <td>
                    <strong>
                      {c.mm >= resolved.mm ? '+' : '−'}
                      {printNumber(100 * Math.abs(c.mm / resolved.mm - 1), 2)} %
                    </strong>
                  </td>
                  <td>
                    {(c.way === 'overall' || c.way === 'count' || c.way === 'structure') && (
                      <Button
                        weight="quiet"
                        aria-label={`Take out ${SIZE_WAY_WORDS[c.way]}`}
                        onPress={() =>
                          drop(
                            `${key} without`,
                            { [c.way]: { ...settings[c.way as 'overall'], [key]: null } },
                            c.way,
                            [key],
                          )
                        }
                      >
                        take out
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {found && !structure && (
          <Quiet>
            {printNumber(found.count, 2)} periods found, confidence {printNumber(100 * found.confidence, 0)} %
          </Quiet>
        )}
        {doubts
          .filter((d) => d.axis === key)
          .map((d) => (
            <p key={d.question}>{d.question}</p>
          ))}
      </Block>
    );
  }

  const residuals =
    geometry && settings.lines.length > 0 ? sizeOfLines(settings.lines, geometry.frame).residuals : [];
  const structureWords = () => {
    if (search.busy) return 'Looking for a structure …';
    if (search.sentence) return search.sentence;
    if (!search.found) return '';
    const { across, up, confidence, stagger } = search.found;
    if (!across && !up)
      return `No regular structure: confidence ${printNumber(100 * confidence.across, 0)} % across, ${printNumber(100 * confidence.up, 0)} % up; from 50 % it would be taken for one.`;
    const one = (name: string, f: typeof across, c: number) =>
      f
        ? `${printNumber(f.count, 2)} periods ${name} (${printNumber(100 * f.confidence, 0)} %)`
        : `none ${name} (${printNumber(100 * c, 0)} %)`;
    return `${one('across', across, confidence.across)}, ${one('up', up, confidence.up)}${stagger !== null && stagger > 0.03 && stagger < 0.97 ? `; courses shifted by ${printNumber(stagger, 2)}` : ''}.`;
  };

  return (
    <>
      {AXES.map(axis)}
      <Block aria-label="Structure">
        <h3>Structure</h3>
        <Quiet role="status">{structureWords()}</Quiet>
      </Block>
      <Block aria-label="Ruler lines">
        <h3>Ruler lines</h3>
        {settings.lines.map((line, n) => (
          <div
            key={line.id}
            style={{ display: 'grid', gap: 4 }}
            onFocus={() =>
              selected !== line.id && dispatch(benchSlice.actions.changed({ selected: line.id }))
            }
          >
            <FigureField
              label={`Length of line ${n + 1}`}
              figure={line.lengthMm}
              unit="mm"
              min={0.001}
              max={1e6}
              onChange={(lengthMm) =>
                take(`ruler length ${line.id}`, {
                  lines: settings.lines.map((l) => (l.id === line.id ? { ...l, lengthMm } : l)),
                })
              }
            />
            <div className="result" style={{ justifyContent: 'space-between' }}>
              <Quiet>
                {settings.lines.length > 1 && residuals[n] !== undefined
                  ? `off the best fit by ${printNumber(100 * Math.abs(residuals[n]), 2)} %`
                  : ''}
              </Quiet>
              <Button
                weight="quiet"
                onPress={() => {
                  const lines = settings.lines.filter((l) => l.id !== line.id);
                  if (lines.length > 0) take('ruler line taken out', { lines });
                  else drop('ruler line taken out', { lines }, 'lines');
                }}
              >
                Take out line {n + 1}
              </Button>
            </div>
          </div>
        ))}
        <Button
          onPress={() =>
            dispatch(benchSlice.actions.changed({ drawing: drawing === 'ruler' ? null : 'ruler' }))
          }
          aria-pressed={drawing === 'ruler'}
        >
          {drawing === 'ruler' ? 'Draw it on the plate now' : 'Draw a ruler line'}
        </Button>
      </Block>
      <Block aria-label="Resolution">
        <h3>Resolution</h3>
        <ResolutionField
          value={settings.resolution}
          onChange={(resolution) => take('resolution', { resolution })}
          onClear={() => drop('resolution', { resolution: null }, 'resolution')}
        />
        {sample.pxPerMm && <Quiet>The file says {printNumber(sample.pxPerMm * 25.4, 0)} dpi.</Quiet>}
      </Block>
      <Block aria-label="Target card">
        <h3>Target card</h3>
        {settings.card ? (
          <div className="result" style={{ justifyContent: 'space-between' }}>
            <Quiet>Its four ring marks are found; shown on the plate as received.</Quiet>
            <Button weight="quiet" onPress={() => drop('card', { card: null }, 'card')}>
              Take out
            </Button>
          </div>
        ) : (
          <Button onPress={() => void findCard().then((card) => card && take('card', { card }))}>
            Find the card’s marks
          </Button>
        )}
        {said?.axis === 'card' && <p role="alert">{said.text}</p>}
      </Block>
      {size && (
        <Quiet>
          {printNumber(size.pxPerMm.x, 3)} × {printNumber(size.pxPerMm.y, 3)} px per mm
          {Math.abs(size.axesDiffer) > 0.0005 &&
            `; the axes differ by ${printNumber(Math.abs(size.axesDiffer) * 100, 1)} %`}
        </Quiet>
      )}
    </>
  );
}
