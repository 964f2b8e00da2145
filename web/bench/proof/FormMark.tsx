import type { FormName, LightName } from '@jossel/core/proof';

/** Outlines of the forms, drawn in a square of 16. */
const OUTLINES: Readonly<Record<FormName, string>> = {
  panel: 'M2.5 2.5h11v11h-11z',
  sphere: 'M8 2a6 6 0 1 0 .01 0z M2.3 9.5c3 2 8.400 2 11.400 0',
  cylinder:
    'M3.500 4v8c0 1.200 2 2 4.500 2s4.500-.8 4.500-2V4c0-1.200-2-2-4.500-2s-4.500.8-4.500 2c0 1.200 2 2 4.500 2s4.500-.8 4.500-2',
  box: 'M2.500 5 8 2.500 13.500 5v6.500L8 14l-5.500-2.500z M2.500 5 8 7.500 13.500 5 M8 7.500V14',
  drape:
    'M2 2.500h12 M3 2.500c1 4-1 7 0 11 M6.300 2.500c1 4-1 7 0 11 M9.700 2.500c1 4-1 7 0 11 M13 2.500c1 4-1 7 0 11',
  pane: 'M4 2h8v12H4z M6 7l3-3 M6.500 10.500l4-4',
  'room-wall': 'M2 2.500 5.500 4v6.500L2 14 M5.500 4H14v6.500H5.500 M10.500 10.500v-4h2v4',
  'room-floor': 'M5.500 2.500v7 M5.500 9.500H14 M5.500 9.500 2 13.500h10l2-4',
  wall: 'M1.500 4.500h13v7.500h-13z M11 12V8.500h1.500V12',
};
const LIGHTS: Readonly<Record<LightName, string>> = {
  overcast: 'M1.500 12.500a6.500 6.500 0 0 1 13 0 M1.500 12.500h13',
  sun: 'M1.500 12.500h13 M8 12.500a3.500 3.500 0 0 1 3.500-3.500 M4.500 12.500A3.500 3.500 0 0 1 8 9 M8 6.500v-3 M12.200 8.300l2-2 M3.800 8.300l-2-2',
  downlight: 'M2 2.500h12 M6 2.500v2.500h4V2.500 M6 6.500l-3 7 M10 6.500l3 7',
  window: 'M3.500 2.500h9v11h-9z M8 2.500v11 M3.500 8h9',
};

const Outline = ({ d }: { d: string }) => (
  <svg
    width="16"
    height="16"
    viewBox="0 0 16 16"
    fill="none"
    stroke="currentColor"
    strokeWidth="1.2"
    aria-hidden="true"
  >
    <path d={d} />
  </svg>
);

export const FormMark = ({ form }: { form: FormName }) => <Outline d={OUTLINES[form]} />;
export const LightMark = ({ light }: { light: LightName }) => <Outline d={LIGHTS[light]} />;
