import { Canvas } from '@react-three/fiber';
import { ChevronUp } from 'lucide-react';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import styled from 'styled-components';
import { MAPS } from '@jossel/core/finish';
import { exposureWith, FORM_TABLE } from '@jossel/core/proof';
import { printNumber } from '@jossel/core/units';
import type { Finish } from '../../app/api';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Button, Quiet } from '../../controls/basics';
import type { Refined } from '../../workers/proof.worker';
import { benchSlice } from '../bench-slice';
import { FillSheet } from '../FillSheet';
import { tileOf } from '../plate/tile';
import type { DrawnOf } from '../use-drawn';
import { Apart, CompareChoice, FormChoice, LightChoice, LightControls, MapOnForm } from './Controls';
import { Draft, FAR_M, FOV_DEG, NEAR_M, startView, turned, type Setting, type View } from './Draft';
import { Divider } from './Divider';
import { saveProof, type Picture } from './save-proof';
import { TURNS_BY, type Turn } from './turns';
import { useCompared } from './use-compared';
import { useMetered, useRefined } from './use-refined';
import { useLightDrag } from './use-light-drag';

const Frame = styled.section`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: 36px minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
  header {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 0 6px 0 12px;
    border-bottom: 1px solid ${({ theme }) => theme.line};
    white-space: nowrap;
    overflow: hidden;
  }
  header .end {
    margin-left: auto;
    flex: none;
    display: flex;
    gap: 2px;
    align-items: center;
  }
  footer {
    padding: 4px 12px 6px;
    border-top: 1px solid ${({ theme }) => theme.line};
    max-height: 260px;
    overflow: auto;
    display: grid;
    gap: 4px;
  }
  /* Sliders over the whole sheet would be hard to set. */
  footer > * {
    max-width: 640px;
  }
`;
const View3d = styled.div`
  position: relative;
  min-height: 0;
  overflow: hidden;
  &:focus-visible {
    outline-offset: -2px;
  }
  .refined {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
`;
const Choices = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
`;
const State = styled.div`
  position: absolute;
  left: 8px;
  bottom: 8px;
  padding: 1px 7px 2px;
  background: ${({ theme }) => theme.sheet};
  font-size: 11px;
  pointer-events: none;
`;

/** The finish on a form of real size under a light that can be turned: a draft while it is changed, refined when it is still. */
export const Proof = memo(function Proof({
  finish,
  drawn,
  isBehind,
  onFold,
  focused,
}: {
  finish: Finish;
  drawn: DrawnOf | null;
  /** The recipe was changed since, and is being drawn: the cores are needed for that. */
  isBehind: boolean;
  onFold: (folded: boolean) => void;
  focused: boolean;
}) {
  const { form, light, stops, reliefTimes, compared, filled, map, mapOnForm, mesh } = useAppSelector(
    (s) => s.bench,
  );
  const surround = SURROUNDS[useAppSelector((s) => s.settings.surround)]!;
  const { subject: other, sentence } = useCompared(compared, finish, drawn?.recipe ?? finish.draft.recipe);
  const metered = useMetered(form, light.name);
  const [divider, setDivider] = useState(0.5);
  const [picture, setPicture] = useState<Picture | null>(null);
  const subject = useMemo(() => drawn && { drawn, response: drawn.recipe.response }, [drawn]);
  const tile = useMemo(
    () => (mapOnForm && drawn ? tileOf(drawn, map, drawn.recipe.response.base.kind === 'metal') : null),
    [mapOnForm, drawn, map],
  );
  const setting = useMemo(
    (): Setting | null =>
      subject && metered !== null
        ? {
            form,
            wallMm: subject.drawn.report.weathering?.wallMm ?? null,
            light,
            exposure: exposureWith(metered, stops),
            surround,
            reliefTimes,
            subjects: other ? [subject, other] : [subject],
            divider,
            map: tile && { name: map, tile },
            mesh: form === 'panel' ? mesh : null,
          }
        : null,
    [subject, other, metered, form, light, stops, surround, reliefTimes, divider, tile, map, mesh],
  );
  return (
    <Frame aria-label="Proof">
      <header>
        <h2>Proof</h2>
        <Quiet style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{FORM_TABLE[form].caption}</Quiet>
        <div className="end">
          <FormChoice />
          <FillSheet view="proof" />
          {filled !== 'proof' && (
            <Button
              weight="icon"
              aria-label="Fold the proof away"
              autoFocus={focused}
              onPress={() => onFold(true)}
            >
              <ChevronUp aria-hidden />
            </Button>
          )}
        </div>
      </header>
      <ProofView
        setting={setting}
        isRefused={!drawn && !isBehind}
        isBehind={isBehind}
        compared={other !== null}
        onDivider={setDivider}
        onPicture={setPicture}
      />
      <footer>
        <Choices>
          <LightChoice />
          <CompareChoice finish={finish} ways={drawn?.recipe.colour.ways ?? []} />
        </Choices>
        {sentence && <p style={{ fontSize: 12 }}>{sentence}</p>}
        {other && subject && <Apart subject={subject} other={other} />}
        <LightControls
          end={
            <>
              <MapOnForm />
              <Button
                weight="quiet"
                isDisabled={!picture || !setting}
                onPress={() => saveProof(picture!, finish.name, setting!)}
              >
                Save picture
              </Button>
            </>
          }
        />
      </footer>
    </Frame>
  );
});

/** The picture: the draft, and over it the refined one. */
function ProofView({
  setting,
  isRefused,
  isBehind,
  compared,
  onDivider,
  onPicture,
}: {
  setting: Setting | null;
  /** There is nothing to show, and nothing is on its way. */
  isRefused: boolean;
  isBehind: boolean;
  compared: boolean;
  onDivider: (share: number) => void;
  /** A refined picture is there, or gone. */
  onPicture: (picture: Picture | null) => void;
}) {
  const dispatch = useAppDispatch();
  const { form, light } = useAppSelector((s) => s.bench);
  const surround = SURROUNDS[useAppSelector((s) => s.settings.surround)]!;
  const turn = useRef<((by: Turn) => void) | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View | null>(null);
  const draws = hasWebGl();
  const [lost, setLost] = useState(false);
  const size = useSize(box);
  const refined = useRefined(setting?.map || setting?.mesh ? null : setting, view, size, isBehind);
  useEffect(() => onPicture(refined && view && { refined, view }), [refined, view, onPicture]);
  useEffect(() => {
    // Without a draft the view is turned here.
    if (draws || !size) return;
    const start = startView(form, size);
    setView(start);
    turn.current = (by) => setView((now) => (by.back || !now ? start : turned(now, by)));
  }, [draws, form, size]);
  const drag = useLightDrag((next) => dispatch(benchSlice.actions.changed({ light: next })), light);
  return (
    <View3d
      ref={box}
      style={{ background: surround }}
      role="application"
      tabIndex={0}
      aria-label={`The finish on a form: ${FORM_TABLE[form].caption}, light ${light.elevationDeg}° above the horizon from ${light.azimuthDeg}°. Arrow keys turn it, plus and minus come nearer and go back, Home turns it back. Dragging with Shift turns the light.`}
      {...drag}
      onKeyDown={(e) => {
        const by = TURNS_BY[e.key];
        // Keys of what stands in the view are its own.
        if (!by || e.target !== e.currentTarget || e.ctrlKey || e.metaKey || e.altKey) return;
        e.preventDefault();
        e.stopPropagation();
        turn.current?.(by);
      }}
    >
      {draws && <DraftView setting={setting} turn={turn} onView={setView} onLost={setLost} />}
      {refined && <RefinedPicture refined={refined} />}
      {compared && <Divider onMove={onDivider} share={setting?.divider ?? 0.5} />}
      <State role="status">
        {lost
          ? 'The graphics card was lost; the draft comes back with it.'
          : isRefused
            ? 'Nothing to show; the reason is under Checks'
            : stateOf(setting, refined, draws)}
      </State>
    </View3d>
  );
}

/** The draft. It is drawn again only when what it shows changes: without a graphics card a frame takes long. */
const DraftView = memo(function DraftView({
  setting,
  turn,
  onView,
  onLost,
}: {
  setting: Setting | null;
  turn: React.RefObject<((by: Turn) => void) | null>;
  onView: (view: View) => void;
  /** The graphics card was lost, or is there again. */
  onLost: (lost: boolean) => void;
}) {
  const [share, setShare] = useState(1);
  const [graphics, setGraphics] = useState({ lost: false, restored: 0 });
  useEffect(() => onLost(graphics.lost), [graphics.lost, onLost]);
  return (
    <Canvas
      frameloop="demand"
      flat
      shadows
      dpr={share * Math.min(1.5, Math.max(1, window.devicePixelRatio))}
      camera={{ fov: FOV_DEG, near: NEAR_M, far: FAR_M }}
      gl={{ antialias: true, powerPreference: 'low-power' }}
      onCreated={({ gl }) => {
        gl.domElement.addEventListener('webglcontextlost', () =>
          setGraphics(({ restored }) => ({ lost: true, restored })),
        );
        // Everything that the card held is made anew.
        gl.domElement.addEventListener('webglcontextrestored', () =>
          setGraphics(({ restored }) => ({ lost: false, restored: restored + 1 })),
        );
      }}
    >
      {setting && !graphics.lost && (
        <Draft key={graphics.restored} setting={setting} turn={turn} onView={onView} onShare={setShare} />
      )}
    </Canvas>
  );
});

function stateOf(setting: Setting | null, refined: Refined | null, draws: boolean): string {
  if (!setting) return 'Metering the light';
  const { map, mesh, reliefTimes } = setting;
  if (map) return draws ? `${MAPS[map.name].title}, unlit` : 'No draft: WebGL is not there.';
  if (mesh)
    return draws
      ? `mesh of ${printNumber(mesh.spacingMm, 2)}\u2009mm edges, from ${printNumber(mesh.distanceMm / 1000, 1)}\u2009m at ${printNumber(mesh.cameraDeg, 0)}°`
      : 'No draft: WebGL is not there.';
  const words = [
    refined
      ? `refined, ${refined.samples} samples`
      : draws
        ? 'draft'
        : 'No draft, as WebGL is not there; the refined picture follows',
  ];
  if (refined && refined.clipped > 0.0005)
    words.push(`${printNumber(100 * refined.clipped, 1)} % brighter than the screen shows`);
  if (reliefTimes !== 1) words.push(`relief ${printNumber(reliefTimes, 1)} times its depth`);
  return words.join('; ');
}

let webGl: boolean | null = null;
/** Whether this browser draws in three dimensions; asked once. */
const hasWebGl = (): boolean => (webGl ??= document.createElement('canvas').getContext('webgl2') !== null);

/** The refined picture, drawn over the draft. */
function RefinedPicture({ refined }: { refined: Refined }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const { widthPx, heightPx, rgba } = refined;
    const at = canvas.current!;
    at.width = widthPx;
    at.height = heightPx;
    at.getContext('2d')!.putImageData(new ImageData(rgba, widthPx, heightPx), 0, 0);
  }, [refined]);
  return <canvas className="refined" ref={canvas} aria-hidden="true" />;
}

/** Size of an element, px. */
function useSize(box: React.RefObject<HTMLElement | null>): { width: number; height: number } | null {
  const [size, setSize] = useState<{ width: number; height: number } | null>(null);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width, height });
    });
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, [box]);
  return size;
}
