import { useState } from 'react';
import {
  bowOfLines,
  CARD_MARKS_MM,
  frameBesideCard,
  turned,
  UNIT_SQUARE,
  type Quad,
} from '@jossel/core/straighten';
import { useAppDispatch, useAppSelector } from '../../../app/store';
import { Button, Quiet, Row } from '../../../controls/basics';
import { benchSlice } from '../../bench-slice';
import { infoOf } from '../../use-drawn';
import { sizeWithCard, withSource } from '../../picture-in-hand';
import { sampleWorker } from '../../use-sample';
import { refitted, useChangeRecipe, useGeometryChange } from '../use-change';
import { lookForCard } from './look-for-card';
import type { PanelProps } from './panel-props';
import { straightenedWords } from './straightened-words';

/** Corners to a true rectangle, bow of the lens, turns, and the target card. */
export function StraightenPanel({ recipe, source, sample, geometry }: PanelProps) {
  const change = useGeometryChange(recipe, source, sample, 'preparation');
  const put = useChangeRecipe();
  const dispatch = useAppDispatch();
  const drawing = useAppSelector((s) => s.bench.drawing);
  const [said, setSaid] = useState('');
  const { frame, bowLines } = source.preparation;
  const quad = (frame ?? UNIT_SQUARE) as Quad;
  const setFrame = (what: string, next: Quad | null) =>
    change(what, { frame: next && (next.map((p) => [...p]) as never) });
  const draw = (what: 'bow' | 'grain') =>
    dispatch(benchSlice.actions.changed({ drawing: drawing === what ? null : what }));

  async function byCard() {
    const card = await lookForCard(sample, 'drag the corners by hand', setSaid);
    if (!card) return;
    // Frame and size by the card are one step.
    const frame = frameBesideCard(sample, bowOfLines(sample, bowLines), card.marks, CARD_MARKS_MM);
    const preparation = { ...source.preparation, frame: frame.map((p) => [...p]) as never };
    const next = withSource(recipe, source.id, { preparation, size: sizeWithCard(source.size, card.marks) });
    put('preparation frame by card', refitted(recipe, next, source, sample));
  }

  async function byStructure() {
    setSaid('Looking for courses and joints …');
    const { bowLines: bow, keepOuts } = source.preparation;
    const found = await sampleWorker().structure(infoOf(sample), { bowLines: bow, frame, keepOuts });
    setSaid(straightenedWords(found));
    if (found.straighten) setFrame('frame by structure', found.straighten.corners);
  }

  return (
    <>
      <p>Drag the four corners to a rectangle of the finish, with a joint or an edge under each line.</p>
      <Row>
        <Button
          onPress={() => setFrame('turned left', turned(quad, -1))}
          aria-label="Quarter turn to the left"
        >
          ¼ left
        </Button>
        <Button
          onPress={() => setFrame('turned right', turned(quad, 1))}
          aria-label="Quarter turn to the right"
        >
          ¼ right
        </Button>
        <Button onPress={() => draw('grain')} aria-pressed={drawing === 'grain'}>
          {drawing === 'grain' ? 'Draw along it now' : 'Turn along the grain'}
        </Button>
      </Row>
      <Row>
        <Button onPress={() => void byCard().catch((e: Error) => setSaid(e.message))}>
          Straighten by the card
        </Button>
        <Button onPress={() => void byStructure().catch((e: Error) => setSaid(e.message))}>
          Straighten by the structure
        </Button>
      </Row>
      <Row>
        <Button weight="quiet" isDisabled={!frame} onPress={() => setFrame('whole picture', null)}>
          Whole picture
        </Button>
      </Row>
      {said && <p role="alert">{said}</p>}
      <h3 style={{ fontSize: 13, fontWeight: 600 }}>Lens distortion</h3>
      <Quiet>
        Draw along an edge that is straight in reality and drag its points onto it.
        {bowLines.length > 0 && geometry && ` Bow ${(100 * geometry.frame.bow.k1).toFixed(2)} %.`}
      </Quiet>
      <Row>
        <Button onPress={() => draw('bow')} aria-pressed={drawing === 'bow'}>
          {drawing === 'bow' ? 'Draw it on the plate now' : 'Draw a straight edge'}
        </Button>
        <Button
          weight="quiet"
          isDisabled={bowLines.length === 0}
          onPress={() => change('no bow', { bowLines: [] })}
        >
          Remove all
        </Button>
      </Row>
      {geometry && (
        <Quiet>
          True proportions {geometry.frame.aspect.ratio.toFixed(3)}, by{' '}
          {geometry.frame.aspect.by === 'parallel' ? 'the picture’s own pixels' : geometry.frame.aspect.by}.
        </Quiet>
      )}
    </>
  );
}
