import { useMemo } from 'react';
import { Label, Slider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import { linearToSrgbBytes, type Triple } from '@jossel/core/colour';
import { metalColour, type FilmSettings, type MetalSettings } from '@jossel/core/response';
import { figure } from '@jossel/core/units';
import { Button, Quiet } from '../../../controls/basics';
import { FigureField } from '../../../controls/figure-field';

/** A colour in linear light as CSS; outside of the screen's range it is cut off. */
export function cssOf([r, g, b]: Triple): string {
  const one = (v: number) => Float32Array.of(v);
  const [red, green, blue] = linearToSrgbBytes({ r: one(r), g: one(g), b: one(b) }, 4);
  return `rgb(${red} ${green} ${blue})`;
}

/** Colours side by side from left to right. */
export const stripOf = (colours: readonly Triple[]): string =>
  `linear-gradient(to right, ${colours.map(cssOf).join(', ')})`;

const MOST_NM = 1200;
const STEPS = 100;
const ANGLES = [0, 10, 20, 30, 40, 50, 60, 70, 80] as const;

const Strip = styled(Slider)`
  .react-aria-Label {
    color: ${({ theme }) => theme.quiet};
    font-size: 12px;
  }
  .react-aria-SliderTrack {
    height: 24px;
    margin-top: 3px;
    border: 1px solid ${({ theme }) => theme.strong};
  }
  .react-aria-SliderThumb {
    top: 50%;
    width: 11px;
    height: 30px;
    background: transparent;
    border: 2px solid ${({ theme }) => theme.ink};
    box-shadow: inset 0 0 0 1.5px ${({ theme }) => theme.field};
  }
  .react-aria-SliderThumb[data-focus-visible] {
    outline: 2px solid ${({ theme }) => theme.mark};
    outline-offset: 2px;
  }
`;
const Turned = styled.div`
  height: 14px;
  border: 1px solid ${({ theme }) => theme.strong};
`;
const Scale = styled.div`
  display: flex;
  justify-content: space-between;
  font-size: 11px;
  color: ${({ theme }) => theme.quiet};
`;

/** A thin film on a metal: its thickness is chosen by the colour it makes. */
export function FilmBlock({
  film,
  on,
  onChange,
  what,
}: {
  film: FilmSettings | null;
  /** The metal that it lies on. */
  on: MetalSettings;
  onChange: (what: string, film: FilmSettings | null) => void;
  /** What carries it, for its name. */
  what: string;
}) {
  const index = film?.index.value ?? 0;
  const over = film !== null && on.from !== 'picture';
  const strip = useMemo(() => {
    if (!over) return '';
    return stripOf(
      Array.from(
        { length: STEPS + 1 },
        (_, k) => metalColour(on, filmOf((k * MOST_NM) / STEPS, index))!.linear,
      ),
    );
  }, [on, index, over]);
  const thickness = film?.thicknessNm.value ?? 0;
  const turned = useMemo(
    () => (over ? stripOf(ANGLES.map((deg) => metalColour(on, filmOf(thickness, index), deg)!.linear)) : ''),
    [on, index, thickness, over],
  );
  if (!film)
    return (
      <div>
        <Button isDisabled={on.from === 'picture'} onPress={() => onChange('film added', filmOf(40, 2.4))}>
          Add a thin film
        </Button>
      </div>
    );
  return (
    <>
      {over && (
        <Strip
          value={thickness}
          minValue={0}
          maxValue={MOST_NM}
          step={2}
          onChange={(v) =>
            onChange('film thickness', { ...film, thicknessNm: { ...film.thicknessNm, value: v as number } })
          }
        >
          <Label>Colour by thickness, 0 to 1 200 nm</Label>
          <SliderTrack style={{ background: strip }}>
            <SliderThumb />
          </SliderTrack>
        </Strip>
      )}
      <FigureField
        label={`Thickness of the film${what}`}
        figure={film.thicknessNm}
        unit="nm"
        min={0}
        max={MOST_NM}
        digits={0}
        onChange={(thicknessNm) => onChange('film thickness', { ...film, thicknessNm })}
      />
      <FigureField
        label={`Index of the film${what}`}
        figure={film.index}
        unit="1"
        min={1}
        max={4}
        digits={2}
        onChange={(next) => onChange('film index', { ...film, index: next })}
      />
      {over && (
        <div>
          <Quiet style={{ fontSize: 12 }}>Colour by angle of incidence</Quiet>
          <Turned
            role="img"
            aria-label="Colour of the film by the angle it is seen at"
            style={{ background: turned }}
          />
          <Scale>
            <span>0°</span>
            <span>40°</span>
            <span>80°</span>
          </Scale>
        </div>
      )}
      <div>
        <Button onPress={() => onChange('film removed', null)}>Remove the film</Button>
      </div>
    </>
  );
}

const filmOf = (thicknessNm: number, index: number): FilmSettings => ({
  part: null,
  thicknessNm: figure(thicknessNm, 'nm', 'assumed'),
  index: figure(index, '1', 'assumed'),
});
