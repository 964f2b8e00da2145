import { useState } from 'react';
import { Link } from 'react-router';
import { differencesFrom, takenOver, type Difference, type Recipe } from '@jossel/core/finish';
import { api } from '../../app/api';
import { Button, Quiet, Row, Sentence } from '../../controls/basics';
import { Block } from './size/Block';
import { useChangeRecipe } from './use-change';

/** The finish that this one was started from: what differs, and what a later revision of it would bring. */
export function DerivedBlock({
  recipe,
  derived,
}: {
  recipe: Recipe;
  derived: NonNullable<Recipe['derived']>;
}) {
  const put = useChangeRecipe();
  const { data: parent, error } = api.useFinishQuery(derived.finishId);
  const [read, reading] = api.useLazyRevisionQuery();
  const [fault, setFault] = useState('');
  const differs = differencesFrom(recipe);
  const newest = parent?.revisions.at(-1)?.letter;
  async function take(letter: string) {
    setFault('');
    try {
      const { recipe: later } = await read({ id: derived.finishId, letter }).unwrap();
      const next = { ...derived, letter, name: parent!.name, recipe: { ...later, derived: null } };
      put('derived take over', takenOver(recipe, next));
    } catch (thrown) {
      setFault(
        (thrown as Error).message ?? `Revision ${letter} of ${derived.name} cannot be read now. Try again.`,
      );
    }
  }
  return (
    <Block>
      <h3>
        Derived from {parent ? <Link to={`/bench/${derived.finishId}`}>{parent.name}</Link> : derived.name},
        revision {derived.letter}
      </h3>
      {error && <Quiet>That finish is not on the rack any more; this one keeps what it took from it.</Quiet>}
      {differs.length === 0 ? (
        <Quiet>Nothing differs from it yet.</Quiet>
      ) : (
        <ul aria-label="What differs" style={{ margin: 0, paddingLeft: 16, fontSize: 12 }}>
          {bySection(differs).map(([section, settings]) => (
            <li key={section}>
              {section}: {settings.join(', ')}
            </li>
          ))}
        </ul>
      )}
      {newest && newest !== derived.letter && (
        <Row>
          <Button isDisabled={reading.isFetching} onPress={() => void take(newest)}>
            Take over revision {newest}
          </Button>
          <Quiet>What differs stays.</Quiet>
        </Row>
      )}
      {fault && <Sentence>{fault}</Sentence>}
    </Block>
  );
}

/** Units at the end of a setting's name. */
const UNIT_OF_NAME = /(Mm|Um|Deg|Gu|Px|Percent|PerCm|PerM2)$/;
/** So many settings of a section are named; the others are counted. */
const NAMED = 5;

/** The differences by section, each setting in words. */
function bySection(differs: readonly Difference[]): [string, string[]][] {
  const sections = new Map<string, string[]>();
  for (const { section, path } of differs) {
    const last = path.split('.').at(-1)!;
    const words = last
      .replace(UNIT_OF_NAME, '')
      .replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
      .trim();
    sections.set(section, [...(sections.get(section) ?? []), words]);
  }
  return [...sections].map(([section, words]) => {
    const unlike = [...new Set(words)];
    const more = unlike.length - NAMED;
    return [section, more > 0 ? [...unlike.slice(0, NAMED), `${more} more`] : unlike];
  });
}
