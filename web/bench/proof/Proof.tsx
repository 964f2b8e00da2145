import { Canvas, useThree } from '@react-three/fiber';
import { ChevronUp } from 'lucide-react';
import { memo, useEffect, useMemo, useRef } from 'react';
import styled from 'styled-components';
import { Spherical, Vector3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Button, Quiet } from '../../controls/basics';
import { Amount } from '../../controls/amounts';
import { Choice } from '../../controls/choice';
import type { Drawn } from '../../workers/render.worker';
import { benchSlice, type BenchState } from '../bench-slice';
import { FillSheet } from '../FillSheet';
import { FORMS, makeForm, makeRule } from './forms';
import { overcastSky } from './sky';
import { useFinishMaterial } from './material';

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
  }
`;
const View = styled.div`
  position: relative;
  min-height: 0;
  overflow: hidden;
  &:focus-visible {
    outline-offset: -2px;
  }
`;

/** What a key does to the view of the proof: turned in degrees, nearer by a factor, or back to the start. */
interface Turn {
  aroundDeg?: number;
  upDeg?: number;
  nearer?: number;
  back?: boolean;
}
const TURNS_BY: Readonly<Record<string, Turn>> = {
  ArrowLeft: { aroundDeg: -10 },
  ArrowRight: { aroundDeg: 10 },
  ArrowUp: { upDeg: 8 },
  ArrowDown: { upDeg: -8 },
  '+': { nearer: 1.15 },
  '=': { nearer: 1.15 },
  '-': { nearer: 1 / 1.15 },
  Home: { back: true },
};

/** The finish on a form of real size, under a lamp that can be turned and an overcast sky. */
export const Proof = memo(function Proof({
  drawn,
  onFold,
  focused,
}: {
  drawn: Drawn | null;
  onFold: (folded: boolean) => void;
  focused: boolean;
}) {
  const { form, lampFromDeg, lampHeightDeg, filled } = useAppSelector((s) => s.bench);
  const surround = useAppSelector((s) => s.settings.surround);
  const dispatch = useAppDispatch();
  const set = (change: Partial<BenchState>) => dispatch(benchSlice.actions.changed(change));
  const turn = useRef<((by: Turn) => void) | null>(null);
  const { caption, options } = FORMS;
  return (
    <Frame aria-label="Proof">
      <header>
        <h2>Proof</h2>
        <Quiet style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{caption[form]}</Quiet>
        <div className="end">
          <Choice
            hideLabel
            inline
            label="Form"
            value={form}
            options={options}
            onChange={(value) => set({ form: value })}
          />
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
      <View
        style={{ background: SURROUNDS[surround] }}
        role="application"
        tabIndex={0}
        aria-label={`The finish on a form: ${caption[form]}, light ${lampHeightDeg}° above it from ${lampFromDeg}°. Arrow keys turn it, plus and minus come nearer and go back, Home turns it back.`}
        onKeyDown={(e) => {
          const by = TURNS_BY[e.key];
          if (!by || e.ctrlKey || e.metaKey || e.altKey) return;
          e.preventDefault();
          e.stopPropagation();
          turn.current?.(by);
        }}
      >
        <Canvas
          frameloop="demand"
          flat
          dpr={[1, 1.5]}
          camera={{ fov: 32, near: 0.01, far: 60 }}
          gl={{ antialias: true, powerPreference: 'low-power' }}
          onCreated={({ gl }) => gl.setClearColor(0x000000, 0)}
        >
          {drawn && (
            <Scene
              drawn={drawn}
              form={form}
              lampFromDeg={lampFromDeg}
              lampHeightDeg={lampHeightDeg}
              turn={turn}
            />
          )}
        </Canvas>
      </View>
      <footer>
        <Amount
          label="Light azimuth"
          labelPx={92}
          unit="°"
          value={lampFromDeg}
          min={0}
          max={360}
          step={5}
          digits={0}
          neutral={0}
          onChange={(v) => set({ lampFromDeg: v })}
        />
        <Amount
          label="Light elevation"
          labelPx={92}
          unit="°"
          value={lampHeightDeg}
          min={3}
          max={90}
          step={1}
          digits={0}
          neutral={90}
          onChange={(v) => set({ lampHeightDeg: v })}
        />
      </footer>
    </Frame>
  );
});

/** Irradiance of the lamp face-on, over π: with the sky's part a white panel shows about white at 45°. */
const LAMP = 1.05;

function Scene({
  drawn,
  form,
  lampFromDeg,
  lampHeightDeg,
  turn,
}: {
  drawn: Drawn;
  form: BenchState['form'];
  lampFromDeg: number;
  lampHeightDeg: number;
  /** Set while the scene is there: turns the view. */
  turn: React.RefObject<((by: Turn) => void) | null>;
}) {
  const { gl, scene, camera, invalidate, size } = useThree();
  // In a narrow view one stands further back, so that the whole form and the rule are seen.
  const back = Math.max(1, (1.0 * size.height) / Math.max(1, size.width));
  const material = useFinishMaterial(drawn, form);
  const geometry = useMemo(() => makeForm(form), [form]);
  const rule = useMemo(() => makeRule(form), [form]);
  useEffect(() => () => geometry.dispose(), [geometry]);

  useEffect(() => {
    const sky = overcastSky(gl);
    scene.environment = sky;
    scene.environmentIntensity = 1;
    invalidate();
    return () => sky.dispose();
  }, [gl, scene, invalidate]);

  useEffect(() => {
    const controls = new OrbitControls(camera, gl.domElement);
    const { target } = FORMS.camera[form];
    const distance = FORMS.camera[form].distance * back;
    const start = new Vector3(distance * 0.26, target + distance * 0.08, distance * 0.96);
    camera.position.copy(start);
    controls.target.set(0, target, 0);
    controls.minDistance = distance * 0.08;
    controls.maxDistance = distance * 2;
    controls.enableDamping = false;
    controls.addEventListener('change', () => invalidate());
    controls.update();
    invalidate();
    turn.current = ({ aroundDeg = 0, upDeg = 0, nearer = 1, back: home }) => {
      const at = new Spherical().setFromVector3(
        (home ? start : camera.position).clone().sub(controls.target),
      );
      at.theta += (aroundDeg * Math.PI) / 180;
      at.phi -= (upDeg * Math.PI) / 180;
      at.radius = Math.min(controls.maxDistance, Math.max(controls.minDistance, at.radius / nearer));
      camera.position.setFromSpherical(at.makeSafe()).add(controls.target);
      controls.update();
    };
    return () => {
      turn.current = null;
      controls.dispose();
    };
  }, [camera, gl, form, back, invalidate, turn]);

  useEffect(() => invalidate(), [material, geometry, lampFromDeg, lampHeightDeg, invalidate]);

  const rad = Math.PI / 180;
  const flat = Math.cos(lampHeightDeg * rad);
  const lamp: [number, number, number] = [
    5 * flat * Math.cos(lampFromDeg * rad),
    FORMS.camera[form].target + 5 * flat * Math.sin(lampFromDeg * rad),
    5 * Math.sin(lampHeightDeg * rad),
  ];
  return (
    <>
      <directionalLight
        position={lamp}
        intensity={LAMP * Math.PI}
        target-position={[0, FORMS.camera[form].target, 0]}
      />
      <mesh geometry={geometry} material={material} position={[0, FORMS.camera[form].target, 0]} />
      <primitive object={rule} />
    </>
  );
}
