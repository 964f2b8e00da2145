import { useState } from 'react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { CATEGORIES } from '@jossel/core/finish';
import { printArea, printNumber } from '@jossel/core/units';
import { api, type FinishItem } from '../app/api';
import { Fault } from '../app/Fault';
import { useAppSelector } from '../app/store';
import { Button, Quiet } from '../controls/basics';
import { BasisMark, StateMark } from '../controls/marks';
import { Actions } from '../controls/menu';
import { RenameBox } from '../controls/rename-box';
import { Swatch } from './Swatch';

const Card = styled.li`
  position: relative;
  &:hover h2 {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  /* What is pressed by itself lies above the link that covers the card. */
  button,
  input {
    position: relative;
    z-index: 1;
  }
`;
const Piece = styled(Link)`
  display: block;
  text-decoration: none;
  color: inherit;
  &::after {
    content: '';
    position: absolute;
    inset: 0;
  }
`;
const Head = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: start;
  gap: 4px;
  margin-top: 6px;
  h2 {
    overflow-wrap: anywhere;
    padding-top: 3px;
  }
`;
const Facts = styled.dl`
  display: grid;
  grid-template-columns: minmax(92px, max-content) 1fr;
  gap: 1px 8px;
  margin: 3px 0 0;
  font-size: 12px;
  dt {
    color: ${({ theme }) => theme.quiet};
    white-space: nowrap;
  }
  dd {
    margin: 0;
    display: flex;
    align-items: center;
    gap: 5px;
    min-width: 0;
    white-space: nowrap;
  }
  dd.fault {
    grid-column: 1 / -1;
    white-space: normal;
  }
`;

/** A given reflectance that differs by less from the measured one is not worth a line. */
const LRV_DIFFERS = 0.5;

/** The given reflectance, where the finish measures another. */
function given({ headline }: FinishItem) {
  if (!headline?.lrvMeasured || !headline.lrvGiven || headline.passesPercent !== null) return null;
  return Math.abs(headline.lrv - headline.lrvGiven.value) >= LRV_DIFFERS ? headline.lrvGiven : null;
}

/** One finish of the rack, or of the bin. */
export function RackItem({
  item,
  inBin,
  pxPerMm,
  onMeasured,
}: {
  item: FinishItem;
  inBin: boolean;
  pxPerMm: number;
  onMeasured: () => void;
}) {
  const [rename, renaming] = api.useRenameFinishMutation();
  const [duplicate, duplicating] = api.useDuplicateFinishMutation();
  const [derive, deriving] = api.useDeriveFinishMutation();
  const [remove, removing] = api.useRemoveFinishMutation();
  const [restore, restoring] = api.useRestoreFinishMutation();
  const [renames, setRenames] = useState(false);
  const fault = renaming.error ?? duplicating.error ?? deriving.error ?? removing.error ?? restoring.error;

  return (
    <Card>
      <Piece to={`/bench/${item.id}`} aria-label={item.name}>
        <Swatch item={item} pxPerMm={pxPerMm} onMeasured={onMeasured} />
      </Piece>
      <Head>
        {renames ? (
          <RenameBox
            name={item.name}
            onEnd={(name) => {
              setRenames(false);
              if (name) void rename({ id: item.id, detailsEtag: item.detailsEtag, name });
            }}
          />
        ) : (
          <h2>{item.name}</h2>
        )}
        {inBin ? (
          <Button onPress={() => void restore(item.id)} aria-label={`Restore ${item.name}`}>
            Restore
          </Button>
        ) : (
          <Actions
            label={`Actions for ${item.name}`}
            actions={[
              { name: 'Rename', run: () => setRenames(true) },
              { name: 'Duplicate', run: () => void duplicate(item.id) },
              {
                name: 'Derive a finish',
                disabled: item.revisions.length === 0,
                run: () => void derive(item.id),
              },
              { name: 'Move to the bin', run: () => void remove(item.id) },
            ]}
          />
        )}
      </Head>
      <Fault error={fault} />
      <Figures item={item} />
    </Card>
  );
}

function Figures({ item }: { item: FinishItem }) {
  const units = useAppSelector((s) => s.settings.units);
  const { headline } = item;
  const other = given(item);
  return (
    <Facts>
      <dt>{CATEGORIES[item.category].name}</dt>
      <dd>
        <StateMark state={item.state} revision={item.revisions.at(-1)} />
      </dd>
      {item.fault && <dd className="fault">{item.fault}</dd>}
      {headline && (
        <>
          <dt>Repeat</dt>
          <dd>
            <BasisMark basis={headline.sizeBasis} />
            {printArea(headline.repeatMm, units)}
          </dd>
          <dt>{headline.passesPercent === null ? 'Reflects' : 'Transmits'}</dt>
          <dd>
            <BasisMark basis={headline.lrvBasis} />
            {headline.passesPercent === null
              ? `LRV ${printNumber(headline.lrv, 0)}`
              : `${printNumber(headline.passesPercent, 0)} %`}{' '}
            <Quiet>gloss {printNumber(headline.glossGu, 0)} GU</Quiet>
          </dd>
          {other && (
            <>
              <dt>Given</dt>
              <dd>
                <BasisMark basis={other.basis} />
                LRV {printNumber(other.value, 0)} <Quiet>{other.basis}</Quiet>
              </dd>
            </>
          )}
        </>
      )}
    </Facts>
  );
}
