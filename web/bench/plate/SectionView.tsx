import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import styled, { useTheme } from 'styled-components';
import type { Drawn } from '../../workers/render.worker';
import type { Recipe } from '@jossel/core/finish';
import { printNumber } from '@jossel/core/units';
import { Button, Quiet } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import { NumberField } from '../../controls/fields';
import type { Theme } from '../../app/theme';
import { scaleWords } from './plate-view';
import { useChangeRecipe } from '../ledger/use-change';
import { causesOfDepth, withKnownDepth } from './known-depth';
import type { SectionLine } from './section-line';
import { depthBetween, profileAlong, slopeDegAt, type Profile, type SectionAxis } from './section-profile';
import { sizedContext } from '../../controls/canvas-size';
import { tickStep } from '../../controls/rulers';
import { usePointerDrag } from '../../controls/use-pointer-drag';

const Box = styled.section`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: 26px 1fr;
  height: 118px;
  position: relative;
  border-top: 1px solid ${({ theme }) => theme.strong};
  min-width: 0;
  header {
    display: flex;
    gap: 12px;
    align-items: center;
    padding: 0 10px;
  }
  .about {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
  .tools {
    margin-left: auto;
    flex: none;
  }
  h2 {
    flex: none;
  }
  .known {
    display: flex;
    gap: 8px;
    align-items: center;
    min-width: 0;
    white-space: nowrap;
  }
  .drawn {
    display: grid;
    grid-template-columns: 34px minmax(0, 1fr);
    min-height: 0;
  }
  svg,
  canvas {
    display: block;
  }
  svg.depth {
    color: ${({ theme }) => theme.quiet};
    font-size: 10px;
  }
`;

const HEIGHT_PX = 90;
/** Room at the ends of a line that has an axis of its own, px. */
const END_PX = 14;

/**
 * The millimetre axis of a section: that of the plate above it for a level line; a line between two ends has one of its own, at the
 * scale of the plate where it fits.
 */
export function axisOf(
  line: SectionLine,
  { from, to }: { from: readonly [number, number]; to: readonly [number, number] },
  { widthPx, pxPerMm, left, scale }: { widthPx: number; pxPerMm: number; left: number; scale: number },
): SectionAxis {
  if (typeof line === 'number') return { widthPx, pxPerMm, startMm: -left / pxPerMm, scale, from, to };
  const lengthMm = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const own = Math.min(pxPerMm, Math.max(1, widthPx - 2 * END_PX) / lengthMm);
  return { widthPx, pxPerMm: own, startMm: -END_PX / own, scale: (scale * pxPerMm) / own, from, to };
}

/** A section that was kept to compare with: heights from a place on the line on, mm. */
interface Kept {
  mm: readonly number[];
  fromMm: number;
  stepMm: number;
}

/**
 * The relief along line A–A; its depth scale is stated. What is under the pointer is read out; a depth is drawn across something by
 * dragging, and can be put to what it is known to be.
 */
export function SectionView({
  drawn,
  axis,
  edgesAt,
  recipe,
  onLevel,
  children,
}: {
  drawn: Drawn | null;
  axis: SectionAxis;
  /** Where the repeat begins on the plate, as shares of it. */
  edgesAt: readonly [number, number];
  recipe: Recipe;
  /** Takes the line back to where it began; null: it is there. */
  onLevel: (() => void) | null;
  /** A detail over its right end. */
  children?: ReactNode;
}) {
  const profile = drawn && axis.widthPx > 0 ? profileAlong(drawn, axis, edgesAt, HEIGHT_PX) : null;
  const shown = profile !== null && profile.y.length > 1;
  const [at, setAt] = useState<number | null>(null);
  const [across, setAcross] = useState<readonly [number, number] | null>(null);
  const [kept, setKept] = useState<Kept | null>(null);
  const mmOf = (px: number) => axis.startMm + px / axis.pxPerMm;
  const columnOf = (mm: number) => Math.round((mm - axis.startMm) * axis.pxPerMm) - (profile?.from ?? 0);
  return (
    <Box aria-label="Section A–A">
      <header>
        <h2>Section A–A</h2>
        {across && shown ? (
          <KnownDepth
            recipe={recipe}
            depthMm={depthBetween(profile, columnOf(across[0]), columnOf(across[1]))}
            onDone={() => setAcross(null)}
          />
        ) : (
          <>
            <Quiet className="about">
              {at !== null && shown
                ? readAt(profile, at, axis, kept)
                : `along ${scaleWords(axis.scale)}${profile ? `, deep ${profile.deep >= 1 ? `${profile.deep}:1` : `1:${Math.round(1 / profile.deep)}`}` : ''}; depth in mm`}
            </Quiet>
            {shown && (
              <span className="tools">
                {onLevel && (
                  <Button weight="quiet" onPress={onLevel}>
                    Level line
                  </Button>
                )}
                <Button
                  weight="quiet"
                  onPress={() =>
                    setKept(
                      kept ? null : { mm: profile.mm, fromMm: mmOf(profile.from), stepMm: 1 / axis.pxPerMm },
                    )
                  }
                >
                  {kept ? 'Drop kept section' : 'Keep to compare'}
                </Button>
              </span>
            )}
          </>
        )}
      </header>
      <div className="drawn">
        {shown ? <DepthRuler levelPx={profile.levelPx} pxPerMm={profile.pxPerDepthMm} /> : <span />}
        <Cut
          axis={axis}
          relief={profile}
          kept={kept}
          at={at}
          across={across}
          onPoint={setAt}
          onAcross={setAcross}
        />
      </div>
      {children}
    </Box>
  );
}

/** What a section says at a pixel column, and how a kept one differs there. */
function readAt(profile: Profile, px: number, axis: SectionAxis, kept: Kept | null): string {
  const k = Math.min(profile.mm.length - 1, Math.max(0, Math.round(px) - profile.from));
  const mm = profile.mm[k]!;
  const alongMm = axis.startMm + (profile.from + k) / axis.pxPerMm;
  const before = kept && kept.mm[Math.round((alongMm - kept.fromMm) / kept.stepMm)];
  const words = [
    `at ${printNumber(alongMm, 1)}\u2009mm: ${printNumber(mm, 3)}\u2009mm`,
    `slope ${printNumber(slopeDegAt(profile, k, axis.pxPerMm), 0)}°`,
  ];
  if (typeof before === 'number') words.push(`${printNumber(mm - before, 3)}\u2009mm from the kept one`);
  return words.join('; ');
}

/** Puts a depth that is drawn across something to what it is known to be. */
function KnownDepth({ recipe, depthMm, onDone }: { recipe: Recipe; depthMm: number; onDone: () => void }) {
  const put = useChangeRecipe();
  const causes = causesOfDepth(recipe);
  const [cause, setCause] = useState(causes[0]?.value ?? '');
  const chosen = causes.some((c) => c.value === cause) ? cause : (causes[0]?.value ?? '');
  return (
    <span className="known" role="group" aria-label="Known depth">
      <Quiet>
        {depthMm < 0 ? 'Stands out by' : 'Lies'} {printNumber(Math.abs(depthMm), 2)}
        {'\u2009'}mm {depthMm < 0 ? '' : 'deep'}; in reality
      </Quiet>
      <NumberField
        hideLabel
        label="Known depth"
        unit="mm"
        value={Math.round(Math.abs(depthMm) * 100) / 100}
        min={0}
        max={1000}
        digits={2}
        onChange={(mm) => put('relief known depth', withKnownDepth(recipe, chosen, depthMm, mm))}
      />
      {causes.length > 1 && (
        <Choice hideLabel inline label="Due to" value={chosen} options={causes} onChange={setCause} />
      )}
      <Button weight="quiet" onPress={onDone}>
        Done
      </Button>
    </span>
  );
}

/** Drags shorter than this are a press, px. */
const LEAST_DRAG_PX = 4;

/** The profile as it is cut, hatched below, with the level that stays in place; painted, as it changes with every drag. */
function Cut({
  relief,
  axis,
  kept,
  at,
  across,
  onPoint,
  onAcross,
}: {
  relief: Profile | null;
  axis: SectionAxis;
  kept: Kept | null;
  at: number | null;
  /** Stretch that a depth is drawn across, mm along the line. */
  across: readonly [number, number] | null;
  onPoint: (px: number | null) => void;
  onAcross: (mm: readonly [number, number] | null) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  const { widthPx } = axis;
  useLayoutEffect(() => {
    const context = sizedContext(canvas.current!, widthPx, HEIGHT_PX);
    context.fillStyle = theme.field;
    context.fillRect(0, 0, widthPx, HEIGHT_PX);
    if (!relief || relief.y.length < 2) return;
    if (across) paintStretch(context, across, axis, theme);
    paintCut(context, relief, theme);
    if (kept) paintKept(context, kept, relief, axis, theme);
    context.setLineDash([10, 3, 2, 3]);
    context.lineWidth = 0.7;
    context.strokeStyle = theme.mark;
    context.beginPath();
    context.moveTo(0, relief.levelPx);
    context.lineTo(widthPx, relief.levelPx);
    context.stroke();
    if (at !== null) paintPointer(context, relief, at, theme);
  });
  const mmAt = (px: number) => axis.startMm + px / axis.pxPerMm;
  const pxOf = (clientX: number) => clientX - canvas.current!.getBoundingClientRect().left;
  const drag = usePointerDrag({
    begin: ({ at: [x] }) => {
      onAcross(null);
      return pxOf(x);
    },
    move: (from, _by, [x]) => {
      if (Math.abs(pxOf(x) - from) >= LEAST_DRAG_PX) onAcross([mmAt(from), mmAt(pxOf(x))]);
    },
  });
  const dragged = drag();
  return (
    <canvas
      ref={canvas}
      style={{ width: Math.max(0, widthPx), height: HEIGHT_PX, touchAction: 'none', cursor: 'crosshair' }}
      role="application"
      tabIndex={0}
      aria-label="Profile of the relief along line A–A; arrow keys read it, with Shift they draw a depth across"
      {...dragged}
      onPointerMove={(e) => {
        onPoint(pxOf(e.clientX));
        dragged.onPointerMove?.(e);
      }}
      onPointerLeave={() => onPoint(null)}
      onBlur={() => onPoint(null)}
      onKeyDown={(e) => {
        if (e.key === 'Escape') return onAcross(null);
        if (!relief || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return;
        e.preventDefault();
        e.stopPropagation();
        const was = at ?? widthPx / 2;
        const next = Math.min(widthPx - 1, Math.max(0, was + (e.key === 'ArrowLeft' ? -1 : 1)));
        onPoint(next);
        if (e.shiftKey) onAcross([across?.[0] ?? mmAt(was), mmAt(next)]);
      }}
    />
  );
}

/** The stretch that a depth is drawn across, from end to end. */
function paintStretch(
  context: CanvasRenderingContext2D,
  [from, to]: readonly [number, number],
  { startMm, pxPerMm }: SectionAxis,
  theme: Theme,
): void {
  const [a, b] = [(Math.min(from, to) - startMm) * pxPerMm, (Math.max(from, to) - startMm) * pxPerMm];
  context.fillStyle = theme.page;
  context.fillRect(a, 0, b - a, HEIGHT_PX);
  context.strokeStyle = theme.mark;
  context.lineWidth = 1;
  context.beginPath();
  for (const x of [a, b]) {
    context.moveTo(x, 0);
    context.lineTo(x, HEIGHT_PX);
  }
  context.stroke();
}

/** A section that was kept, as a dotted line over the one that is shown. */
function paintKept(
  context: CanvasRenderingContext2D,
  { mm, fromMm, stepMm }: Kept,
  { levelPx, pxPerDepthMm }: Profile,
  { startMm, pxPerMm }: SectionAxis,
  theme: Theme,
): void {
  context.save();
  context.strokeStyle = theme.mark;
  context.lineWidth = 1.2;
  context.setLineDash([2, 3]);
  context.beginPath();
  mm.forEach((height, k) =>
    context.lineTo((fromMm + k * stepMm - startMm) * pxPerMm, levelPx - height * pxPerDepthMm),
  );
  context.stroke();
  context.restore();
}

function paintPointer(context: CanvasRenderingContext2D, relief: Profile, px: number, theme: Theme): void {
  const y = relief.y[Math.round(px) - relief.from];
  if (y === undefined) return;
  context.setLineDash([]);
  context.strokeStyle = theme.mark;
  context.lineWidth = 1;
  context.strokeRect(Math.round(px) - 3, y - 3, 6, 6);
}

/** Distance of the lines of the hatch, px. */
const HATCH_PX = 8.5;

function paintCut(context: CanvasRenderingContext2D, { y, from }: Profile, theme: Theme): void {
  const outline = new Path2D();
  const end = from + y.length - 1;
  outline.moveTo(from, HEIGHT_PX + 2);
  y.forEach((v, k) => outline.lineTo(from + k, v));
  outline.lineTo(end, HEIGHT_PX + 2);
  outline.closePath();
  context.save();
  context.clip(outline);
  context.strokeStyle = theme.line;
  context.lineWidth = 1;
  context.beginPath();
  // Lines at 45° through the whole section; the outline keeps them to what is cut.
  for (let x = Math.floor((from - HEIGHT_PX) / HATCH_PX) * HATCH_PX; x <= end; x += HATCH_PX) {
    context.moveTo(x, HEIGHT_PX);
    context.lineTo(x + HEIGHT_PX, 0);
  }
  context.stroke();
  context.restore();
  context.strokeStyle = theme.ink;
  context.lineWidth = 1;
  context.lineJoin = 'round';
  context.stroke(outline);
}

/** Depth in millimetres beside the profile; 0 is the level that stays in place. */
function DepthRuler({ levelPx, pxPerMm }: { levelPx: number; pxPerMm: number }) {
  const step = tickStep(pxPerMm, 20);
  const digits = step < 1 ? Math.ceil(-Math.log10(step)) : 0;
  const ticks: number[] = [];
  for (let k = Math.ceil(-levelPx / pxPerMm / step); ; k++) {
    const y = levelPx + k * step * pxPerMm;
    if (y > HEIGHT_PX - 4) break;
    if (y >= 6) ticks.push(k);
  }
  return (
    <svg className="depth" width={34} height={HEIGHT_PX} aria-hidden="true">
      {ticks.map((k) => (
        <g key={k} transform={`translate(0 ${(levelPx + k * step * pxPerMm).toFixed(1)})`}>
          <path d="M34 0h-5" stroke="currentColor" />
          <text x="27" y="3.5" textAnchor="end" fill="currentColor">
            {printNumber(-k * step, digits)}
          </text>
        </g>
      ))}
    </svg>
  );
}
