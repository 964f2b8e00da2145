import styled from 'styled-components';
import type { Recipe } from '@jossel/core/finish';
import type { LayoutSettings } from '@jossel/core/layout';
import type { Figure } from '@jossel/core/units';
import { useAppSelector } from '../../app/store';
import { NumberField } from '../../controls/fields';
import { layoutFor } from '../ledger/layout/layout-for';
import { useChangeRecipe } from '../ledger/use-change';
import { useLayoutLines, useLinesInView } from '../layout-worker';
import type { LayoutLines } from '../../workers/layout.worker';
import { draggedFigure } from './dragged-figure';
import { DirectionHandle } from './DirectionHandle';
import { OverPlate } from './OverPlate';
import { InFirstRepeat } from './RepetitionOnPlate';
import type { Placed } from './RuledView';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Over = styled(OverPlate)`
  pointer-events: none;
  path {
    fill: none;
    vector-effect: non-scaling-stroke;
  }
  path.under {
    stroke: ${({ theme }) => theme.sheet};
    stroke-width: 2.6px;
  }
  path.line {
    stroke: ${({ theme }) => theme.ink};
    stroke-width: 1px;
  }
  rect.ground {
    fill: ${({ theme }) => theme.sheet};
  }
  line {
    stroke: ${({ theme }) => theme.mark};
    stroke-width: 1.2px;
  }
  line.halo {
    stroke: ${({ theme }) => theme.sheet};
    stroke-width: 4px;
  }
  line.grip {
    pointer-events: stroke;
    stroke: transparent;
    stroke-width: 14px;
  }
`;
const Label = styled.div`
  position: absolute;
  width: 88px;
  transform: translate(-50%, -50%);
  background: ${({ theme }) => theme.sheet};
  border: 1px solid ${({ theme }) => theme.mark};
`;

/** The layout as lines over the plate: the bond that is looked at on the sheet, the hatch, and its dimensions. */
export function LayoutOnPlate({
  recipe,
  placed,
  repeatMm,
}: {
  recipe: Recipe;
  placed: Placed;
  /** Size of what the plate shows. */
  repeatMm: { width: number; height: number };
}) {
  const { section, hatch, bondOver } = useAppSelector((s) => s.bench);
  const { layout } = recipe;
  const put = useChangeRecipe();
  const looked = section === 'layout' && bondOver ? layoutFor(bondOver, layout) : null;
  const own = useLinesInView(useLayoutLines(layout), repeatMm);
  const over = useLayoutLines(looked);
  if (looked && over) return <BondOver lines={over} placed={placed} fieldMm={repeatMm} />;
  if (!layout || !own) return null;
  return (
    <>
      {hatch && (
        <Over role="img" aria-label="Lines of the layout">
          <InFirstRepeat placed={placed} repeatMm={repeatMm}>
            <g transform={`translate(${placed.left} ${placed.top}) scale(${placed.pxPerMm})`}>
              <path className="under" d={own.path} />
              <path className="line" d={own.path} />
            </g>
          </InFirstRepeat>
        </Over>
      )}
      {section === 'layout' && (
        <>
          <DirectionHandle
            value={layout.turnedDeg}
            placed={placed}
            repeatMm={repeatMm}
            onChange={(turnedDeg) => put('layout turn', { ...recipe, layout: { ...layout, turnedDeg } })}
          />
          <Dimensions recipe={recipe} layout={layout} lines={own} placed={placed} />
        </>
      )}
    </>
  );
}

/** A bond of the sheet, drawn at true size in place of the picture. */
function BondOver({
  lines,
  placed: { left, top, pxPerMm },
  fieldMm,
}: {
  lines: LayoutLines;
  placed: Placed;
  fieldMm: { width: number; height: number };
}) {
  const count = (whole: number, part: number) => Math.min(6, Math.ceil(whole / part));
  return (
    <Over role="img" aria-label={`Bond as lines, ${lines.pieces} pieces`}>
      <rect
        className="ground"
        x={left}
        y={top}
        width={fieldMm.width * pxPerMm}
        height={fieldMm.height * pxPerMm}
      />
      <svg x={left} y={top} width={fieldMm.width * pxPerMm} height={fieldMm.height * pxPerMm}>
        {Array.from({ length: count(fieldMm.height, lines.repeatMm.height) }, (_, j) =>
          Array.from({ length: count(fieldMm.width, lines.repeatMm.width) }, (__, i) => (
            <path
              key={`${i} ${j}`}
              className="line"
              d={lines.path}
              transform={`scale(${pxPerMm}) translate(${i * lines.repeatMm.width} ${j * lines.repeatMm.height})`}
            />
          )),
        )}
      </svg>
    </Over>
  );
}

type Measured = 'length' | 'width' | 'along' | 'across';
const NAMES: Readonly<Record<Measured, string>> = {
  length: 'Length on the plate',
  width: 'Width on the plate',
  along: 'Joint along, on the plate',
  across: 'Joint across, on the plate',
};

/** A dimension line: from one place to another on the screen, and which figure it is. */
interface Dimension {
  of: Measured;
  from: readonly [number, number];
  to: readonly [number, number];
  label: readonly [number, number];
}

/** How far dimension lines stand off their piece, px. */
const OFF_PX = 14;
const LABEL_PX = { x: 52, y: 18 };

function dimensionsOf({ piece, joint }: NonNullable<LayoutLines['typical']>, placed: Placed): Dimension[] {
  const x = (mm: number) => placed.left + mm * placed.pxPerMm;
  const y = (mm: number) => placed.top + mm * placed.pxPerMm;
  const [left, right, top, bottom] = [x(piece.left), x(piece.right), y(piece.top), y(piece.bottom)];
  const lying = piece.lying;
  const out: Dimension[] = [
    {
      of: lying ? 'length' : 'width',
      from: [left, top - OFF_PX],
      to: [right, top - OFF_PX],
      label: [(left + right) / 2, top - OFF_PX - LABEL_PX.y],
    },
    {
      of: lying ? 'width' : 'length',
      from: [left - OFF_PX, top],
      to: [left - OFF_PX, bottom],
      label: [left - OFF_PX - LABEL_PX.x, (top + bottom) / 2],
    },
  ];
  if (joint.right > 0)
    out.push({
      of: lying ? 'across' : 'along',
      from: [right, bottom + OFF_PX],
      to: [right + joint.right * placed.pxPerMm, bottom + OFF_PX],
      label: [right + LABEL_PX.x + 8, bottom + OFF_PX + 4],
    });
  if (joint.below > 0)
    out.push({
      of: lying ? 'along' : 'across',
      from: [right + OFF_PX, bottom],
      to: [right + OFF_PX, bottom + joint.below * placed.pxPerMm],
      label: [right + OFF_PX + LABEL_PX.x, bottom - LABEL_PX.y],
    });
  return out;
}

/** Sizes of a piece and its joints as dimension lines, dragged at their ends or typed. */
function Dimensions({
  recipe,
  layout,
  lines,
  placed,
}: {
  recipe: Recipe;
  layout: LayoutSettings;
  lines: LayoutLines;
  placed: Placed;
}) {
  const put = useChangeRecipe();
  const { piece, joint } = layout;
  const figures: Record<Measured, Figure<'mm'>> = {
    length: piece.lengthMm,
    width: piece.widthMm,
    along: joint.alongMm,
    across: joint.acrossMm,
  };
  const set = (of: Measured, mm: number, dragged: boolean) => {
    const next = draggedFigure(figures[of], mm, of === 'along' || of === 'across' ? 0 : 1, dragged);
    put(
      `layout ${of}`,
      {
        ...recipe,
        layout: {
          ...layout,
          piece: {
            lengthMm: of === 'length' ? next : piece.lengthMm,
            widthMm: of === 'width' ? next : piece.widthMm,
          },
          joint: {
            ...joint,
            alongMm: of === 'along' ? next : joint.alongMm,
            acrossMm: of === 'across' ? next : joint.acrossMm,
          },
        },
      },
      dragged,
    );
  };
  const drag = usePointerDrag({
    begin: (_press, of: keyof typeof figures, upright: boolean) => ({ of, upright, mm: figures[of].value }),
    move: ({ of, upright, mm }, by) => set(of, mm + by[upright ? 1 : 0] / placed.pxPerMm, true),
  });
  if (!lines.typical) return null;
  const dimensions = dimensionsOf(lines.typical, placed);
  return (
    <>
      <Over aria-hidden>
        {dimensions.map(({ of, from, to }) => (
          <g key={of}>
            <DimensionLine from={from} to={to} className="halo" />
            <DimensionLine from={from} to={to} />
            <line
              className="grip"
              x1={to[0] - (to[0] === from[0] ? 8 : 0)}
              y1={to[1] - (to[0] === from[0] ? 0 : 8)}
              x2={to[0] + (to[0] === from[0] ? 8 : 0)}
              y2={to[1] + (to[0] === from[0] ? 0 : 8)}
              style={{ cursor: to[0] === from[0] ? 'ns-resize' : 'ew-resize' }}
              {...drag(of, to[0] === from[0])}
            />
          </g>
        ))}
      </Over>
      {dimensions.map(({ of, label }) => (
        <Label key={of} style={{ left: label[0], top: label[1] }} onPointerDown={(e) => e.stopPropagation()}>
          <NumberField
            hideLabel
            label={NAMES[of]}
            unit="mm"
            value={figures[of].value}
            min={of === 'along' || of === 'across' ? 0 : 1}
            max={100000}
            digits={1}
            onChange={(mm) => set(of, mm, false)}
          />
        </Label>
      ))}
    </>
  );
}

const TICK_PX = 4;

/** A line with a slanted stroke at either end. */
function DimensionLine({
  from,
  to,
  className,
}: {
  from: Dimension['from'];
  to: Dimension['to'];
  className?: string;
}) {
  return (
    <>
      <line className={className} x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} />
      {[from, to].map(([x, y], k) => (
        <line
          key={k}
          className={className}
          x1={x - TICK_PX}
          y1={y + TICK_PX}
          x2={x + TICK_PX}
          y2={y - TICK_PX}
        />
      ))}
    </>
  );
}
