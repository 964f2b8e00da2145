import type { ReliefView } from '@jossel/core/schedule';
import { NumberField, type NumberFieldProps } from './fields';

/** Figures of the camera that relief is planned for. */

const FIELDS = {
  distanceMm: { label: 'Camera distance', unit: 'mm', min: 1, max: 1e7 },
  cameraDeg: { label: 'View angle', unit: 'deg', min: 0, max: 89 },
  fovDeg: { label: 'Field of view', unit: 'deg', min: 1, max: 170 },
  pictureWidthPx: {
    label: 'Picture width, px',
    unit: '×',
    hideUnit: true,
    whole: true,
    min: 16,
    max: 100000,
  },
  errorPx: { label: 'Error allowed, px', unit: '×', hideUnit: true, min: 0.05, max: 100, digits: 2 },
  budgetMb: { label: 'Budget, MiB', unit: '×', hideUnit: true, min: 0.001, max: 1e6 },
} satisfies Partial<Record<keyof ReliefView, Omit<NumberFieldProps, 'value' | 'onChange'>>>;

export type CameraFigure = keyof typeof FIELDS;
export const CAMERA_FIGURES = Object.keys(FIELDS) as CameraFigure[];

/** One figure of a camera, with what it may be. */
export const CameraField = ({
  figure,
  ...props
}: { figure: CameraFigure } & Pick<NumberFieldProps, 'value' | 'onChange'> & Partial<NumberFieldProps>) => (
  <NumberField {...FIELDS[figure]} {...props} />
);
