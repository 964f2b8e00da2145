import styled from 'styled-components';
import { ToggleButton, ToggleButtonGroup, type Key } from 'react-aria-components';
import {
  ARRISES,
  arrisDropMm,
  jointHeightMm,
  PROFILES,
  type ArrisForm,
  type JointProfile,
  workedSection,
  WORKINGS,
  type Working,
} from '@jossel/core/layout';

const Row = styled(ToggleButtonGroup)`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(58px, 1fr));
  gap: 4px;
`;
const Drawn = styled(ToggleButton)`
  display: grid;
  gap: 2px;
  padding: 3px 4px;
  background: ${({ theme }) => theme.field};
  border: 1px solid ${({ theme }) => theme.line};
  font-size: 11px;
  line-height: 1.2;
  cursor: pointer;
  svg {
    width: 100%;
    height: 28px;
  }
  path {
    fill: ${({ theme }) => theme.line};
    stroke: ${({ theme }) => theme.ink};
    stroke-width: 1px;
  }
  &[data-hovered],
  &[data-focus-visible] {
    border-color: ${({ theme }) => theme.ink};
  }
  &[data-selected] {
    border-color: ${({ theme }) => theme.mark};
    box-shadow: inset 0 0 0 1px ${({ theme }) => theme.mark};
    font-weight: 600;
  }
`;

const NAMES: Readonly<Record<JointProfile | ArrisForm | Working, string>> = {
  'as-sampled': 'as sampled',
  honed: 'honed',
  sawn: 'sawn',
  brushed: 'brushed',
  riven: 'riven',
  'bush-hammered': 'bush-hammered',
  flamed: 'flamed',
  blasted: 'blasted',
  'wire-cut': 'wire-cut',
  'hand-moulded': 'hand-moulded',
  flush: 'flush',
  'bucket-handle': 'bucket handle',
  recessed: 'recessed',
  'weather-struck': 'weather-struck',
  v: 'V',
  open: 'open',
  square: 'square',
  round: 'pencil-round',
  bevel: 'bevel',
  tumbled: 'tumbled',
  chipped: 'chipped',
};

/** A section between two faces: heights in mm along a line, at one scale on both axes. */
function sectionPath(heights: readonly number[], stepMm: number, depthMm: number): string {
  const line = heights
    .map((h, k) => `${k === 0 ? 'M' : 'L'}${(k * stepMm).toFixed(2)} ${(-h).toFixed(2)}`)
    .join('');
  return `${line}L${((heights.length - 1) * stepMm).toFixed(2)} ${depthMm}L0 ${depthMm}Z`;
}

function Choices<T extends JointProfile | ArrisForm | Working>({
  label,
  values,
  value,
  heightsOf,
  onChange,
}: {
  label: string;
  values: readonly T[];
  value: T;
  /** Section of a form: heights over a window of 24 mm in steps of 0.5 mm. */
  heightsOf: (form: T) => number[];
  onChange: (value: T) => void;
}) {
  return (
    <Row
      aria-label={label}
      selectionMode="single"
      disallowEmptySelection
      selectedKeys={[value]}
      onSelectionChange={(keys: Set<Key>) => {
        const chosen = values.find((v) => keys.has(v));
        if (chosen) onChange(chosen);
      }}
    >
      {values.map((form) => (
        <Drawn key={form} id={form} aria-label={NAMES[form]}>
          <svg viewBox="0 -2 24 13" aria-hidden>
            <path d={sectionPath(heightsOf(form), STEP_MM, 11)} />
          </svg>
          {NAMES[form]}
        </Drawn>
      ))}
    </Row>
  );
}

const STEP_MM = 0.5;
const WINDOW_MM = 24;
const PLACES = Array.from({ length: WINDOW_MM / STEP_MM + 1 }, (_, k) => k * STEP_MM);
/** Sections are drawn with at least these, so that thin joints can be told apart. */
const LEAST_MM = { joint: 8, depth: 3, arris: 4 };
const [UPPER_EDGE, LOWER_EDGE] = [4, 2];

/** The section of a joint, drawn by what makes it. */
export function ProfileChoice({
  value,
  widthMm,
  depthMm,
  onChange,
}: {
  value: JointProfile;
  widthMm: number;
  depthMm: number;
  onChange: (value: JointProfile) => void;
}) {
  const half = Math.min(WINDOW_MM / 3, Math.max(LEAST_MM.joint, widthMm)) / 2;
  const deep = Math.min(9, Math.max(LEAST_MM.depth, depthMm));
  return (
    <Choices
      label="Joint profile"
      values={PROFILES}
      value={value}
      heightsOf={(form) =>
        PLACES.map((x) => {
          const off = Math.abs(x - WINDOW_MM / 2);
          if (off >= half) return 0;
          const side = x < WINDOW_MM / 2 ? UPPER_EDGE : LOWER_EDGE;
          return jointHeightMm(form, 1 - off / half, side, deep);
        })
      }
      onChange={onChange}
    />
  );
}

/** The arris of a piece at its joint, drawn by what makes it. */
export function ArrisChoice({
  value,
  sizeMm,
  onChange,
}: {
  value: ArrisForm;
  sizeMm: number;
  onChange: (value: ArrisForm) => void;
}) {
  const size = Math.min(9, Math.max(LEAST_MM.arris, sizeMm));
  return (
    <Choices
      label="Arris"
      values={ARRISES}
      value={value}
      heightsOf={(form) =>
        PLACES.map((x) => (x < 3 ? -9 : -arrisDropMm(form, x - 3, form === 'tumbled' ? 1.5 * size : size)))
      }
      onChange={onChange}
    />
  );
}

/** Depth that workings are drawn with, mm. */
const DRAWN_DEEP_MM = 4;

/** The working of the faces, drawn by what makes it. */
export function WorkingChoice({ value, onChange }: { value: Working; onChange: (value: Working) => void }) {
  return (
    <Choices
      label="Working of the faces"
      values={WORKINGS}
      value={value}
      heightsOf={(kind) => {
        const section = workedSection(kind);
        return PLACES.map((x) => (section ? DRAWN_DEEP_MM * section(2 * x) - 3 : 0));
      }}
      onChange={onChange}
    />
  );
}
