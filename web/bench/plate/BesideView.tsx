import styled from 'styled-components';
import { leadingPicture, type Recipe } from '@jossel/core/finish';
import type { PictureSource } from '@jossel/core/sources';
import { printNumber } from '@jossel/core/units';
import type { Sample } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Quiet } from '../../controls/basics';
import type { Drawn } from '../../workers/render.worker';
import { Picture } from '../ledger/colour/parts';
import { infoOf, renderWorker } from '../use-drawn';
import { usedAreaOf } from '../picture-in-hand';
import { useLatest } from '../use-sample';

const Frame = styled.section`
  display: grid;
  grid-template-rows: 36px minmax(0, 1fr);
  min-height: 0;
  min-width: 0;
  header {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 4px 12px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    white-space: nowrap;
    overflow: hidden;
  }
  .ground {
    display: grid;
    grid-template-rows: repeat(3, minmax(0, 1fr));
    gap: 10px;
    min-height: 0;
    padding: 10px 12px;
  }
  figure {
    display: grid;
    grid-template-rows: minmax(0, 1fr) auto;
    gap: 2px;
    min-height: 0;
  }
  figure > div {
    min-height: 0;
    position: relative;
    overflow: hidden;
  }
  canvas {
    position: absolute;
    inset: 0;
    height: 100%;
    object-fit: cover;
  }
  figcaption {
    font-size: 12px;
    padding: 1px 4px;
    background: ${({ theme }) => theme.sheet};
    width: fit-content;
    white-space: nowrap;
  }
`;

const SIDE_PX = 420;

/**
 * The sample as received, as levelled and balanced, and the finish, beside one another under the same display transform:
 * linear light with sRGB primaries through the transfer function of IEC 61966-2-1, nothing else.
 */
export function BesideView({
  recipe,
  source,
  samples,
  drawn,
}: {
  recipe: Recipe;
  /** The picture in hand. */
  source: PictureSource;
  samples: readonly Sample[];
  drawn: Drawn | null;
}) {
  const surround = useAppSelector((s) => s.settings.surround);
  const area = usedAreaOf(recipe, source);
  const { value, sentence } = useLatest(
    `beside ${JSON.stringify([source, area, source.size ? null : leadingPicture(recipe)])}`,
    () => renderWorker().beside(recipe, source, area, samples.map(infoOf), SIDE_PX),
  );
  const report = drawn?.report;
  return (
    <Frame aria-label="Before and after" data-ready={value ? 'yes' : undefined}>
      <header>
        <h2>Before and after</h2>
        <Quiet style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
          same exposure, without proof lighting
        </Quiet>
      </header>
      <div className="ground" style={{ background: SURROUNDS[surround]! }}>
        <figure>
          <div>
            {value && (
              <Picture
                about="The sample as received"
                widthPx={value.widthPx}
                heightPx={value.heightPx}
                rgba={value.received}
              />
            )}
          </div>
          <figcaption>sample as received</figcaption>
        </figure>
        <figure>
          <div>
            {value && (
              <Picture
                about="The sample as levelled and balanced"
                widthPx={value.widthPx}
                heightPx={value.heightPx}
                rgba={value.calibrated}
              />
            )}
          </div>
          <figcaption>
            {sentence || `levelled and balanced${report ? `, LRV ${printNumber(report.before.lrv, 1)}` : ''}`}
          </figcaption>
        </figure>
        <figure>
          <div>
            {drawn && (
              <Picture
                about="The finish"
                widthPx={drawn.widthPx}
                heightPx={drawn.heightPx}
                rgba={drawn.colour}
              />
            )}
          </div>
          <figcaption>finish{report ? `, LRV ${printNumber(report.lrv, 1)}` : ''}</figcaption>
        </figure>
      </div>
    </Frame>
  );
}
