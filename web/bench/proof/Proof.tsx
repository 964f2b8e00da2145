import { Canvas, useThree } from '@react-three/fiber';
import { ChevronUp } from 'lucide-react';
import { memo, useEffect, useMemo } from 'react';
import { Label, Slider, SliderOutput, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { useAppDispatch, useAppSelector } from '../../app/store';
import { SURROUNDS } from '../../app/theme';
import { Button, Quiet } from '../../controls/basics';
import { Choice } from '../../controls/choice';
import type { Drawn } from '../../workers/render.worker';
import { benchSlice, type BenchState } from '../bench-slice';
import { FillSheet } from '../FillSheet';
import { FORMS, makeForm, makeRule } from './forms';
import { overcastSky } from './sky';
import { useFinishMaterial } from './material';

const Frame = styled.section`
  display: grid;
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
const Turn = styled(Slider)`
  display: grid;
  grid-template-columns: 92px 1fr 40px;
  align-items: center;
  gap: 8px;
  font-size: 12px;
  .react-aria-SliderTrack {
    height: 18px;
    position: relative;
  }
  .react-aria-SliderTrack::before {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    top: 8.5px;
    height: 1px;
    background: ${({ theme }) => theme.strong};
  }
  .react-aria-SliderThumb {
    width: 11px;
    height: 11px;
    top: 50%;
    border: 1.5px solid ${({ theme }) => theme.ink};
    border-radius: 50%;
    background: ${({ theme }) => theme.field};
  }
  .react-aria-SliderThumb[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: 2px;
  }
  output {
    text-align: right;
  }
`;

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
      <div
        style={{ minHeight: 0, background: SURROUNDS[surround] }}
        role="img"
        aria-label={`The finish on a form: ${caption[form]}, lamp ${lampHeightDeg}° above it from ${lampFromDeg}°`}
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
            <Scene drawn={drawn} form={form} lampFromDeg={lampFromDeg} lampHeightDeg={lampHeightDeg} />
          )}
        </Canvas>
      </div>
      <footer>
        <Turn
          value={lampFromDeg}
          minValue={0}
          maxValue={360}
          step={5}
          onChange={(v) => set({ lampFromDeg: v as number })}
        >
          <Label>Lamp from</Label>
          <SliderTrack>
            <SliderThumb />
          </SliderTrack>
          <SliderOutput>{lampFromDeg}°</SliderOutput>
        </Turn>
        <Turn
          value={lampHeightDeg}
          minValue={3}
          maxValue={90}
          step={1}
          onChange={(v) => set({ lampHeightDeg: v as number })}
        >
          <Label>Lamp above it</Label>
          <SliderTrack>
            <SliderThumb />
          </SliderTrack>
          <SliderOutput>{lampHeightDeg}°</SliderOutput>
        </Turn>
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
}: {
  drawn: Drawn;
  form: BenchState['form'];
  lampFromDeg: number;
  lampHeightDeg: number;
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
    camera.position.set(distance * 0.26, target + distance * 0.08, distance * 0.96);
    controls.target.set(0, target, 0);
    controls.minDistance = distance * 0.08;
    controls.maxDistance = distance * 2;
    controls.enableDamping = false;
    controls.addEventListener('change', () => invalidate());
    controls.update();
    invalidate();
    return () => controls.dispose();
  }, [camera, gl, form, back, invalidate]);

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
