import { MAP_NAMES, type MapName } from '@jossel/core/finish';
import { SECTIONS, type Section } from '@jossel/core/surface';
import {
  COLOUR_TOOLS,
  FIELDS,
  LOOKS,
  REPEAT_TOOLS,
  SAMPLE_TOOLS,
  type BenchState,
  type ColourTool,
  type Field,
  type Look,
  type RepeatTool,
  type SampleTool,
} from './bench-slice';
import { limitScale } from './plate/plate-view';

/** What of the Bench stands in its address, so that it can be linked to, reloaded and gone back to. */

/** The tool of an open section, by its name in the slice. */
const TOOL_OF: Partial<Record<Section, 'tool' | 'colourTool' | 'repeatTool'>> = {
  sample: 'tool',
  colour: 'colourTool',
  repeat: 'repeatTool',
};

type Addressed = Pick<
  BenchState,
  'section' | 'tool' | 'colourTool' | 'repeatTool' | 'look' | 'map' | 'scale' | 'field' | 'way'
>;

/** The search part of the address; what is as it begins is left out. */
export function addressOf(bench: Addressed): URLSearchParams {
  const params = new URLSearchParams();
  const { section, look, map, scale, field, way } = bench;
  if (section) {
    params.set('section', section);
    const tool = TOOL_OF[section];
    if (tool) params.set('tool', bench[tool]);
  }
  if (look) params.set('view', look);
  if (map !== 'colour') params.set('map', map);
  if (scale !== null) params.set('scale', String(Number(scale.toPrecision(4))));
  if (field !== 1) params.set('repeats', String(field));
  if (way) params.set('colourway', way);
  return params;
}

const among = <T>(values: readonly T[], value: unknown): T | null =>
  values.find((v) => String(v) === value) ?? null;

/** What an address says of the Bench; what it does not say is as it begins. What makes no sense is passed over. */
export function benchAt(params: URLSearchParams): Addressed {
  const section = among<Section>(SECTIONS, params.get('section'));
  const tool = params.get('tool');
  const of = <T>(key: 'tool' | 'colourTool' | 'repeatTool', values: readonly T[], usual: T): T =>
    (section && TOOL_OF[section] === key ? among(values, tool) : null) ?? usual;
  const scale = Number(params.get('scale'));
  return {
    section,
    tool: of<SampleTool>('tool', SAMPLE_TOOLS, 'report'),
    colourTool: of<ColourTool>('colourTool', COLOUR_TOOLS, 'match'),
    repeatTool: of<RepeatTool>('repeatTool', REPEAT_TOOLS, 'way'),
    look: among<Look>(LOOKS, params.get('view')),
    map: among<MapName>(MAP_NAMES, params.get('map')) ?? 'colour',
    scale: scale > 0 && Number.isFinite(scale) ? limitScale(scale) : null,
    field: among<Field>(FIELDS, params.get('repeats')) ?? 1,
    way: params.get('colourway'),
  };
}
