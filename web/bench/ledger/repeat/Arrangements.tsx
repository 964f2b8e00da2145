import { useEffect, useState } from 'react';
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components';
import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import {
  arrangementOf,
  withAnotherArrangement,
  withoutArrangement,
  type RepeatSettings,
} from '@jossel/core/repeat';
import { Button, Row } from '../../../controls/basics';
import type { DrawnOf } from '../../use-drawn';
import { keepPicture, keptPictures, nameOfPicture, smallPicture } from './small-pictures';

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

/** Arrangements that are kept, with a small picture of those that were drawn once. */
export function Arrangements({
  recipe,
  change,
  drawn,
}: {
  recipe: Recipe;
  change: (what: string, part: Partial<RepeatSettings>) => void;
  drawn: DrawnOf | null;
}) {
  const [pictures, setPictures] = useState<ReadonlyMap<string, string>>(keptPictures);
  useEffect(() => {
    if (!drawn || drawn.report.arrangement === null) return;
    const made = nameOfPicture(drawn.recipe, arrangementOf(drawn.recipe.repeat));
    setPictures(keepPicture(made, smallPicture(drawn)));
  }, [drawn]);
  const { repeat: settings } = recipe;
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
        {arrangements.map((a) => {
          const picture = pictures.get(nameOfPicture(recipe, a));
          return (
            <Item key={a.number} id={String(a.number)} aria-label={`Arrangement ${a.number}`}>
              {picture ? <img src={picture} alt="" /> : <i />}
              {a.number}
            </Item>
          );
        })}
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
