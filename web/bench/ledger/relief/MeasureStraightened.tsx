import { useState } from 'react';
import { leadingPicture, type Recipe } from '@jossel/core/finish';
import type { ContributionOf } from '@jossel/core/relief';
import type { SampleGeometry } from '@jossel/core/sources';
import { printNumber } from '@jossel/core/units';
import type { Sample } from '../../../app/api';
import { Fault } from '../../../app/Fault';
import { useAppDispatch } from '../../../app/store';
import { Button, Quiet, Row, Sentence } from '../../../controls/basics';
import { lightSetApi } from '../../../samples/light-set-api';
import { gestureNow } from '../../gesture';
import { withStraightened } from './measured-straightened';

/**
 * Relief that was measured from pictures as they were taken, of which a frame was drawn since: all of them can be straightened
 * alike, and measured again.
 */
export function MeasureStraightened({
  recipe,
  contribution,
  sample,
  geometry,
}: {
  recipe: Recipe;
  contribution: ContributionOf<'measured'>;
  /** The leading picture, and its frame and size. */
  sample: Sample;
  geometry: SampleGeometry;
}) {
  const dispatch = useAppDispatch();
  const [measure, measuring] = lightSetApi.useMeasureLightSetMutation();
  const [sentence, setSentence] = useState('');
  const { lightSetId, straightened } = contribution;
  const { frame, bowLines } = leadingPicture(recipe)!.preparation;
  if (!lightSetId || straightened || (!frame && bowLines.length === 0)) return null;
  const { width, height } = geometry.size;
  const order = async () => {
    const measured = await measure({
      lightSetId,
      overallMm: { width: width.mm, height: height.mm },
      straighten: { frame, bowLines },
    }).unwrap();
    setSentence(
      dispatch(withStraightened(recipe, contribution.id, { ...measured, lightSetId }, sample, gestureNow())),
    );
  };
  return (
    <section aria-label="Measure again" style={{ display: 'grid', gap: 6 }}>
      <span>
        It was measured before its pictures were straightened. Straightened first, lights stand as they do to
        the sample, and what lies around it is left out.
      </span>
      <Row>
        <Button isDisabled={measuring.isLoading} onPress={() => void order().catch(() => undefined)}>
          {measuring.isLoading ? 'Measuring …' : 'Measure again, straightened'}
        </Button>
        <Quiet role="status">
          {measuring.isLoading
            ? 'This takes up to some minutes.'
            : `at ${printNumber(width.mm, 0)} × ${printNumber(height.mm, 0)}\u2009mm`}
        </Quiet>
      </Row>
      <Fault error={measuring.error} />
      {sentence && <Sentence>{sentence}</Sentence>}
    </section>
  );
}
