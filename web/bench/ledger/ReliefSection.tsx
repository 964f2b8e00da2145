import { Fragment } from 'react';
import styled from 'styled-components';
import { jointsContribution, type FinishPieces, type Recipe, type RenderReport } from '@jossel/core/finish';
import {
  JOINT_LOOKS,
  type BandedContribution,
  type JointsContribution,
  type ReliefContribution,
} from '@jossel/core/relief';
import { figure, printLength, printNumber } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { Button, OneOf, Quiet, Row } from '../../controls/basics';
import { Amount, Tick } from '../../controls/amounts';
import { Choice } from '../../controls/choice';
import { NumberField } from '../../controls/fields';
import { FigureField } from '../../controls/figure-field';
import { useChange } from './use-change';

const BANDS = [
  ['broad', 'Broad'],
  ['middle', 'Middle'],
  ['fine', 'Fine'],
] as const;

/** What a contribution in bands has besides what all have. */
type BandedShape = Omit<BandedContribution, 'kind' | 'id' | 'name' | 'depthMm'>;

const Head = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
  h3 {
    margin: 0;
    font-size: 13px;
    font-weight: 600;
  }
`;

/** Relief of its contributions, each with its depth in mm, and which level stays in place. */
export function ReliefSection({
  recipe,
  report,
  pieces,
  usedMm,
}: {
  recipe: Recipe;
  report: RenderReport | null;
  pieces: FinishPieces | null;
  usedMm: { width: number; height: number } | null;
}) {
  const change = useChange(recipe, 'relief');
  const units = useAppSelector((s) => s.settings.units);
  const { relief } = recipe;
  const { contributions } = relief;
  const several = contributions.length > 1;
  const replace = (k: number, what: string, next: ReliefContribution, dragged?: boolean) =>
    change(
      `${next.id} ${what}`,
      { contributions: contributions.map((c, n) => (n === k ? next : c)) },
      dragged,
    );
  return (
    <>
      {contributions.map((c, k) => (
        <Fragment key={c.id}>
          {several && (
            <Head>
              <h3>{c.name}</h3>
              {c.kind === 'joints' && (
                <Button
                  onPress={() =>
                    change('joints', { contributions: contributions.filter((other) => other.id !== c.id) })
                  }
                >
                  Remove
                </Button>
              )}
            </Head>
          )}
          <FigureField
            label={c.kind === 'joints' ? 'Depth of joints' : 'Depth'}
            figure={c.depthMm}
            unit="mm"
            min={0}
            max={1000}
            digits={3}
            onChange={(depthMm) => replace(k, 'depth', { ...c, depthMm })}
          />
          {c.kind === 'joints' ? (
            <Joints joints={c} onChange={(what, part) => replace(k, what, { ...c, ...part })} />
          ) : (
            <Banded
              contribution={c}
              onChange={(what, part, dragged) => replace(k, what, { ...c, ...part }, dragged)}
            />
          )}
          {c.kind === 'picture' && (
            <Tick
              name="Leave colour out"
              value={c.colourOut ?? false}
              onChange={(colourOut) => replace(k, 'colour', { ...c, colourOut })}
            />
          )}
        </Fragment>
      ))}
      {pieces && usedMm && !contributions.some((c) => c.kind === 'joints') && (
        <Row>
          <Button
            onPress={() =>
              change('joints', {
                contributions: [
                  ...contributions,
                  jointsContribution(pieces.joints, usedMm, figure(BEGINNING_MM, 'mm', 'assumed')),
                ],
              })
            }
          >
            Add joints
          </Button>
          <Quiet>
            {printNumber(pieces.pieces, 0)} pieces are seen, with {pieces.joints.look} joints.
          </Quiet>
        </Row>
      )}
      <div style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'center', gap: 8 }}>
        <Quiet>Stays in place</Quiet>
        <OneOf
          label="Which level stays in place"
          value={relief.zero}
          options={[
            { value: 'top', name: 'top' },
            { value: 'mean', name: 'mean' },
            { value: 'bottom', name: 'foot' },
          ]}
          onChange={(zero) => change('zero', { zero })}
        />
      </div>
      {report && (
        <Quiet>
          From {printLength(report.heightMm.min, units, 3)} to {printLength(report.heightMm.max, units, 3)};
          slopes {printNumber(report.slopeDeg.mean, 1)}° on average, 99 % below{' '}
          {printNumber(report.slopeDeg.p99, 0)}°
        </Quiet>
      )}
    </>
  );
}

/** Depth of joints that are added, until a better one is known. */
const BEGINNING_MM = 2;

/** What tells joints from pieces, and how the face falls to them. */
function Joints({
  joints: { look, widestMm, edgeMm },
  onChange,
}: {
  joints: JointsContribution;
  onChange: (what: string, part: Partial<JointsContribution>) => void;
}) {
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 8 }}>
      <Choice
        label="Joints are"
        value={look}
        options={JOINT_LOOKS.map((name) => ({ value: name, name }))}
        onChange={(next) => onChange('look', { look: next })}
      />
      <NumberField
        label="Widest joint"
        unit="mm"
        value={widestMm}
        min={0.05}
        max={1000}
        onChange={(next) => onChange('widest', { widestMm: next })}
      />
      <NumberField
        label="Edge width"
        unit="mm"
        value={edgeMm}
        min={0}
        max={1000}
        onChange={(next) => onChange('edge', { edgeMm: next })}
      />
    </div>
  );
}

/** Three bands of detail of a picture or map, each with a signed amount, where they part, and how steep detail may be. */
function Banded({
  contribution: c,
  onChange,
}: {
  contribution: BandedContribution;
  onChange: (what: string, part: Partial<BandedShape>, dragged?: boolean) => void;
}) {
  return (
    <>
      <div role="group" aria-label="Amount of each band of detail">
        {BANDS.map(([key, name]) => (
          <Amount
            key={key}
            label={name}
            value={c[key]}
            min={-2}
            max={2}
            step={0.05}
            onChange={(v) => onChange(key, { [key]: v }, true)}
          />
        ))}
      </div>
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
        <NumberField
          label="Broad from"
          unit="mm"
          value={c.broadFromMm}
          min={Math.max(0.02, c.fineBelowMm * 1.01)}
          max={100000}
          onChange={(broadFromMm) => onChange('broad from', { broadFromMm })}
        />
        <NumberField
          label="Fine below"
          unit="mm"
          value={c.fineBelowMm}
          min={0.01}
          max={c.broadFromMm / 1.01}
          onChange={(fineBelowMm) => onChange('fine below', { fineBelowMm })}
        />
        <NumberField
          label="Smooth"
          unit="mm"
          value={c.smoothMm}
          min={0}
          max={1000}
          onChange={(smoothMm) => onChange('smooth', { smoothMm })}
        />
        <NumberField
          label="Steepest detail"
          unit="deg"
          value={c.steepestDeg ?? 90}
          min={0.1}
          max={90}
          onChange={(steepestDeg) => onChange('steepest', { steepestDeg })}
        />
      </div>
      <Tick
        name="Dark areas are raised"
        value={c.invert}
        onChange={(invert) => onChange('invert', { invert })}
      />
    </>
  );
}
