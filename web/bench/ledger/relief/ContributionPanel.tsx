import { useState } from 'react';
import styled from 'styled-components';
import { isBanded, type ReliefContribution } from '@jossel/core/relief';
import { Button, OnOff } from '../../../controls/basics';
import { Tick } from '../../../controls/amounts';
import { FigureField } from '../../../controls/figure-field';
import { RenameBox } from '../../../controls/rename-box';
import { LightSetReport } from '../../../samples/LightSetReport';
import { Banded } from './Banded';
import type { Change } from './change';
import { Meeting } from './Meeting';
import { Generated, Profile, Joints, PartLevel } from './OwnFields';
import type { NamedPart } from '../parts';

const Panel = styled.section`
  display: grid;
  gap: 9px;
  padding-left: 9px;
  border-left: 2px solid ${({ theme }) => theme.strong};
  header {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 6px;
    align-items: center;
    h3 {
      margin: 0 auto 0 0;
      font-size: 13px;
      font-weight: 600;
    }
  }
`;
const DEPTH_LABELS: Record<ReliefContribution['kind'], string> = {
  picture: 'Depth',
  map: 'Depth',
  measured: 'Depth, whole map',
  joints: 'Depth of joints',
  part: 'Depth of the part',
  generated: 'Depth',
  profile: 'Depth',
};

/** One contribution to the relief: its depth, what it is made of, how it meets what is below it, and where it counts. */
export function ContributionPanel({
  contribution: c,
  parts,
  measuredAgain,
  isAlone,
  onAlone,
  onChange,
  onRemove,
}: {
  contribution: ReliefContribution;
  parts: readonly NamedPart[];
  /** How it can be measured again. */
  measuredAgain: React.ReactNode;
  isAlone: boolean;
  onAlone: (on: boolean) => void;
  onChange: Change;
  onRemove: () => void;
}) {
  const [naming, setNaming] = useState(false);
  return (
    <Panel aria-label={`Contribution ${c.name}`}>
      <header>
        <h3>
          {naming ? (
            <RenameBox
              name={c.name}
              onEnd={(name) => {
                setNaming(false);
                if (name) onChange('name', { ...c, name });
              }}
            />
          ) : (
            <Button weight="quiet" aria-label={`Rename ${c.name}`} onPress={() => setNaming(true)}>
              {c.name}
            </Button>
          )}
        </h3>
        <OnOff name="on" value={!c.off} onChange={(on) => onChange('on', { ...c, off: !on })} />
        <OnOff
          name="alone"
          tip="Show only this one; the others are kept"
          value={isAlone}
          onChange={onAlone}
        />
        <Button weight="quiet" onPress={onRemove}>
          Remove
        </Button>
      </header>
      <FigureField
        label={DEPTH_LABELS[c.kind]}
        figure={c.depthMm}
        unit="mm"
        min={0}
        max={1000}
        digits={3}
        onChange={(depthMm) => onChange('depth', { ...c, depthMm })}
      />
      {isBanded(c) && <Banded contribution={c} onChange={onChange} />}
      {c.kind === 'picture' && (
        <Tick
          name="Leave colour out"
          value={c.colourOut ?? false}
          onChange={(colourOut) => onChange('colour', { ...c, colourOut })}
        />
      )}
      {measuredAgain}
      {c.kind === 'measured' && c.lightSetId && <LightSetReport id={c.lightSetId} />}
      {c.kind === 'joints' && <Joints joints={c} onChange={onChange} />}
      {c.kind === 'part' && <PartLevel part={c} parts={parts} onChange={onChange} />}
      {c.kind === 'generated' && <Generated variation={c} onChange={onChange} />}
      {c.kind === 'profile' && <Profile profile={c} onChange={onChange} />}
      <Meeting contribution={c} parts={parts} onChange={onChange} />
    </Panel>
  );
}
