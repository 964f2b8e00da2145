import styled from 'styled-components';
import { arrisDropMm, jointHeightMm, type LayoutSettings } from '@jossel/core/layout';
import type { Recipe } from '@jossel/core/finish';
import { printNumber, type Figure } from '@jossel/core/units';
import { useChangeRecipe } from '../ledger/use-change';
import { draggedFigure } from './dragged-figure';
import { scaleWords } from './plate-view';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Box = styled.figure`
  position: absolute;
  right: 0;
  top: 0;
  bottom: 0;
  margin: 0;
  background: ${({ theme }) => theme.sheet};
  border-left: 1px solid ${({ theme }) => theme.strong};
  figcaption {
    height: 26px;
    display: flex;
    align-items: center;
    gap: 8px;
    padding: 0 10px;
    font-weight: 650;
    span {
      font-weight: 400;
      color: ${({ theme }) => theme.quiet};
    }
  }
  path.cut {
    fill: ${({ theme }) => theme.line};
    stroke: ${({ theme }) => theme.ink};
  }
  line.face {
    stroke: ${({ theme }) => theme.mark};
    stroke-dasharray: 10 3 2 3;
    stroke-width: 0.7px;
  }
  text {
    font-size: 10px;
    fill: ${({ theme }) => theme.ink};
  }
  g[role='slider'] {
    outline: none;
    line.shown {
      stroke: ${({ theme }) => theme.mark};
      stroke-width: 1.4px;
    }
    rect {
      fill: ${({ theme }) => theme.sheet};
      stroke: ${({ theme }) => theme.mark};
      stroke-width: 1.4px;
    }
    line.grip {
      stroke: transparent;
      stroke-width: 16px;
    }
    &:focus-visible rect {
      stroke-width: 3px;
    }
  }
`;

const WIDTH_PX = 208;
const HEIGHT_PX = 90;
/** Room above the faces and below the joint, px. */
const ABOVE_PX = 18;
const BELOW_PX = 16;
/** Face that is shown beside a joint, mm, at least. */
const LEAST_FACE_MM = 2.5;
const [UPPER_EDGE, LOWER_EDGE] = [4, 2];
/** Scales that are drawn, px per mm at 96 px per inch. */
const SCALES = [10, 5, 4, 2, 1, 0.5, 0.2, 0.1, 0.05];
const PX_PER_MM = 96 / 25.4;

/** A joint between two courses with its arrises, to scale on both axes; depth and arris are dragged in it. */
export function JointDetail({ recipe, layout }: { recipe: Recipe; layout: LayoutSettings }) {
  const put = useChangeRecipe();
  const { joint, arris } = layout;
  const arrisMm = arris.form === 'square' ? 0 : arris.sizeMm.value;
  const halfMm = joint.alongMm.value / 2;
  const deepMm = joint.depthMm.value + arrisMm;
  const faceMm = Math.max(LEAST_FACE_MM, 1.3 * arrisMm + 0.5 * halfMm);
  const shownMm = 2 * (halfMm + faceMm);
  const fits = (scale: number) =>
    scale * PX_PER_MM * shownMm <= WIDTH_PX && scale * PX_PER_MM * deepMm <= HEIGHT_PX - ABOVE_PX - BELOW_PX;
  const scale = SCALES.find(fits) ?? SCALES.at(-1)!;
  const px = scale * PX_PER_MM;
  const x = (mm: number) => WIDTH_PX / 2 + mm * px;
  const y = (mm: number) => ABOVE_PX - mm * px;
  const change = (what: string, part: Partial<LayoutSettings>, dragged: boolean) =>
    put(`layout ${what}`, { ...recipe, layout: { ...layout, ...part } }, dragged);
  const setDepth = (mm: number, dragged: boolean) =>
    change(
      'joint depth',
      { joint: { ...joint, depthMm: draggedFigure(joint.depthMm, mm, 0, dragged) } },
      dragged,
    );
  const setArris = (mm: number, dragged: boolean) =>
    change(
      'arris size',
      { arris: { ...arris, sizeMm: draggedFigure(arris.sizeMm, mm, 0.1, dragged) } },
      dragged,
    );
  const middle = heightAt(layout, 0);
  return (
    <Box>
      <figcaption>
        Joint <span>{scaleWords(1 / scale)}</span>
      </figcaption>
      <svg width={WIDTH_PX} height={HEIGHT_PX} role="group" aria-label="Section of a joint">
        <path className="cut" d={cutPath(layout, WIDTH_PX / px / 2, x, y)} />
        <line className="face" x1={0} x2={WIDTH_PX} y1={y(0)} y2={y(0)} />
        {joint.profile !== 'flush' && (
          <Grip
            name="Depth of the joint, in the section"
            figure={joint.depthMm}
            at={[x(0), y(middle)]}
            upright
            pxPerMm={px}
            onChange={setDepth}
          />
        )}
        {arris.form !== 'square' && (
          <Grip
            name="Width of the arris, in the section"
            figure={arris.sizeMm}
            at={[x(-halfMm - arrisMm), y(0)]}
            pxPerMm={-px}
            onChange={setArris}
          />
        )}
      </svg>
    </Box>
  );
}

/** Height over the faces at a place, mm; 0 is the middle of the joint, the lower course on the left. */
function heightAt({ joint, arris }: LayoutSettings, mm: number): number {
  const half = joint.alongMm.value / 2;
  const size = arris.form === 'square' ? 0 : arris.sizeMm.value;
  const off = Math.abs(mm) - half;
  if (off >= 0) return -arrisDropMm(arris.form, off, size);
  const foot = arris.form === 'chipped' ? 0 : size;
  const side = mm < 0 ? UPPER_EDGE : LOWER_EDGE;
  return jointHeightMm(joint.profile, -off / half, side, joint.depthMm.value) - foot;
}

const STEPS = 240;

function cutPath(
  layout: LayoutSettings,
  reachMm: number,
  x: (mm: number) => number,
  y: (mm: number) => number,
): string {
  const line = Array.from({ length: STEPS + 1 }, (_, k) => {
    const mm = reachMm * ((2 * k) / STEPS - 1);
    return `${x(mm).toFixed(1)} ${y(heightAt(layout, mm)).toFixed(1)}`;
  }).join('L');
  return `M-2 ${HEIGHT_PX + 2}L${line}L${WIDTH_PX + 2} ${HEIGHT_PX + 2}Z`;
}

/** Step of an arrow key, mm; with Shift ten of them. */
const STEP_MM = 0.1;

/** A figure that is dragged in the drawing, or changed with the arrow keys. */
function Grip({
  name,
  figure,
  at: [x, y],
  upright = false,
  pxPerMm,
  onChange,
}: {
  name: string;
  figure: Figure<'mm'>;
  at: readonly [number, number];
  upright?: boolean;
  /** Along the way it is dragged; below 0 it grows to the left. */
  pxPerMm: number;
  onChange: (mm: number, dragged: boolean) => void;
}) {
  const drag = usePointerDrag({
    begin: () => figure.value,
    move: (mm, by) => onChange(mm + by[upright ? 1 : 0] / pxPerMm, true),
  });
  const more = upright ? ['ArrowDown', 'ArrowRight'] : ['ArrowLeft', 'ArrowUp'];
  const less = upright ? ['ArrowUp', 'ArrowLeft'] : ['ArrowRight', 'ArrowDown'];
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuenow={figure.value}
      aria-valuetext={`${printNumber(figure.value, 1)} mm`}
      style={{ cursor: upright ? 'ns-resize' : 'ew-resize', touchAction: 'none' }}
      onKeyDown={(e) => {
        const way = more.includes(e.key) ? 1 : less.includes(e.key) ? -1 : 0;
        if (way === 0) return;
        e.preventDefault();
        e.stopPropagation();
        onChange(figure.value + way * STEP_MM * (e.shiftKey ? 10 : 1), false);
      }}
      {...drag()}
    >
      <line className="grip" x1={x - 8} x2={x + 8} y1={y} y2={y} />
      {upright ? (
        <line className="shown" x1={x} x2={x} y1={ABOVE_PX} y2={y} />
      ) : (
        <line className="shown" x1={x} x2={x} y1={y - 8} y2={y + 8} />
      )}
      <rect x={x - 3.5} y={y - 3.5} width={7} height={7} />
      <text x={x} y={upright ? y + 15 : y - 9} textAnchor="middle">
        {printNumber(figure.value, 1)}
      </text>
    </g>
  );
}
