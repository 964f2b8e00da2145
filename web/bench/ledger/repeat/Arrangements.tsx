import { useEffect, useState } from 'react';
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components';
import styled from 'styled-components';
import { withAnotherArrangement, withoutArrangement, type RepeatSettings } from '@jossel/core/repeat';
import { Button, Row } from '../../../controls/basics';
import type { Drawn } from '../../../workers/render.worker';

const List = styled(ToggleButtonGroup)`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(62px, 1fr));
  gap: 6px;
`;
const Item = styled(ToggleButton)`
  display: grid;
  gap: 2px;
  justify-items: start;
  padding: 3px;
  border: 1px solid ${({ theme }) => theme.line};
  border-radius: ${({ theme }) => theme.radius};
  background: ${({ theme }) => theme.field};
  cursor: pointer;
  font-size: 12px;
  img,
  i {
    width: 100%;
    aspect-ratio: 1;
    object-fit: cover;
    background: ${({ theme }) => theme.sheet};
  }
  &[data-selected] {
    border-color: ${({ theme }) => theme.ink};
    font-weight: 600;
  }
`;
const SIDE_PX = 96;

/** The middle of what is drawn, small. */
function smallPicture({ widthPx, heightPx, colour }: Drawn): string {
  const whole = document.createElement('canvas');
  whole.width = widthPx;
  whole.height = heightPx;
  whole.getContext('2d')!.putImageData(new ImageData(colour, widthPx, heightPx), 0, 0);
  const small = document.createElement('canvas');
  small.width = small.height = SIDE_PX;
  const side = Math.min(widthPx, heightPx);
  small
    .getContext('2d')!
    .drawImage(whole, (widthPx - side) / 2, (heightPx - side) / 2, side, side, 0, 0, SIDE_PX, SIDE_PX);
  return small.toDataURL();
}

/** Arrangements that are kept, with a small picture of those that were drawn since the page was opened. */
export function Arrangements({
  settings,
  change,
  drawn,
}: {
  settings: RepeatSettings;
  change: (what: string, part: Partial<RepeatSettings>) => void;
  drawn: Drawn | null;
}) {
  const [pictures, setPictures] = useState<ReadonlyMap<number, string>>(new Map());
  const number = drawn?.report.arrangement ?? null;
  useEffect(() => {
    if (drawn && number !== null) setPictures((known) => new Map(known).set(number, smallPicture(drawn)));
  }, [drawn, number]);
  const { arrangements, arrangement } = settings;
  return (
    <section aria-label="Arrangements" style={{ display: 'grid', gap: 7 }}>
      <List
        aria-label="Arrangement in use"
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[String(arrangement)]}
        onSelectionChange={(keys) => {
          const [chosen] = keys;
          if (chosen !== undefined) change('arrangement', { arrangement: Number(chosen) });
        }}
      >
        {arrangements.map((a) => (
          <Item key={a.number} id={String(a.number)} aria-label={`Arrangement ${a.number}`}>
            {pictures.has(a.number) ? <img src={pictures.get(a.number)} alt="" /> : <i />}
            {a.number}
          </Item>
        ))}
      </List>
      <Row>
        <Button onPress={() => change('another arrangement', withAnotherArrangement(settings))}>
          Another arrangement
        </Button>
        {arrangements.length > 1 && (
          <Button
            weight="quiet"
            onPress={() => change('arrangement removed', withoutArrangement(settings, arrangement))}
          >
            Remove {arrangement}
          </Button>
        )}
      </Row>
    </section>
  );
}
