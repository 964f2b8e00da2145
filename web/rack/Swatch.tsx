import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { printLength } from '@jossel/core/units';
import { swatchUrl, type FinishItem } from '../app/api';
import { useAppSelector } from '../app/store';
import { SURROUNDS } from '../app/theme';
import { swatchQueue } from './swatch-queue';

const Window = styled.div`
  height: 170px;
  border: 1px solid ${({ theme }) => theme.strong};
  background-color: ${SURROUNDS[60]};
  overflow: hidden;
  position: relative;
`;
const Bar = styled.div`
  position: absolute;
  left: 8px;
  bottom: 8px;
  padding: 1px 5px 3px;
  background: ${({ theme }) => theme.sheet};
  font-size: 11px;
  line-height: 14px;
  i {
    display: block;
    border: solid ${({ theme }) => theme.ink};
    border-width: 0 1px 1px;
    height: 4px;
  }
`;

/** Round lengths of a scale bar, mm; half inches up to yards for those who read inches. */
const BARS = {
  metric: [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000],
  imperial: [1, 2, 4, 8, 16, 32, 64, 192, 384, 768, 1536, 3072].map((sixteenths) => (sixteenths * 25.4) / 16),
} as const;

/** A round length that is at least 40 px long at this scale. */
function barLength(pxPerMm: number, units: keyof typeof BARS): number {
  return BARS[units].find((mm) => mm * pxPerMm >= 40) ?? BARS[units].at(-1)!;
}

/** Whether a picture has been fetched, when its turn has come. */
function useFetched(url: string | null, onFetched: () => void): boolean {
  const [fetched, setFetched] = useState<string | null>(null);
  useEffect(() => {
    if (!url) return;
    return swatchQueue.add(
      url,
      () => {
        setFetched(url);
        onFetched();
      },
      () => undefined,
    );
    // What is called once the picture is there need not be the newest.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [url]);
  return fetched !== null && fetched === url;
}

/** A finish through a window, at the scale all others are drawn at. */
export function Swatch({
  item,
  pxPerMm,
  onMeasured,
}: {
  item: FinishItem;
  pxPerMm: number;
  /** Called once the picture is there: the server then knows what the finish measures. */
  onMeasured: () => void;
}) {
  const units = useAppSelector((s) => s.settings.units);
  const repeat = item.headline?.repeatMm;
  const widthOnScreen = repeat ? repeat.width * pxPerMm : 0;
  const dense = Math.min(2048, widthOnScreen * Math.min(2, window.devicePixelRatio));
  const widthPx = [32, 64, 128, 256, 512, 1024, 2048].find((px) => px >= dense) ?? 2048;
  const url = repeat ? swatchUrl(item.id, item.etag, widthPx) : null;
  const unmeasured = item.headline !== null && !item.headline.lrvMeasured;
  const fetched = useFetched(url, () => unmeasured && onMeasured());
  if (!repeat)
    return (
      <Window role="img" aria-label={`${item.name}: ${item.fault ? 'cannot be read' : 'no sample yet'}`} />
    );
  const mm = barLength(pxPerMm, units);
  return (
    <Window
      role="img"
      aria-label={`${item.name}, drawn to scale`}
      style={{
        backgroundImage: fetched ? `url("${url}")` : 'none',
        backgroundSize: `${widthOnScreen}px ${repeat.height * pxPerMm}px`,
      }}
    >
      <Bar>
        {printLength(mm, units)}
        <i style={{ width: mm * pxPerMm }} />
      </Bar>
    </Window>
  );
}
