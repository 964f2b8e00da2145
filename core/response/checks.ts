import { open, wrong, type Check, type Surface, insteadOfPart } from '../surface';
import { printNumber } from '../units';
import { highestGloss, METER_ANGLES, roughnessOfGloss, type ReflectingSurface } from './glossmeter';
import type { BrushedReport } from './brushed';
import type { GlassReport } from './glass';
import type { HazeReport } from './haze';
import { filmsOnNothing } from './metals';
import type { CoatSettings, ResponseSettings } from './settings';

/** What a response came to, as far as checks look at it. */
export interface Judged {
  /** The surface that the gloss is of, and whether it can be that glossy. */
  of: ReflectingSurface;
  roughness: number;
  reached: boolean;
  /** What parts are of: metal, or as all else. */
  ofPart: (part: string) => ReflectingSurface;
  haze: HazeReport | null;
  glass: GlassReport | null;
  brushed: BrushedReport | null;
}

/** What of a response does not hold. */
export function checkResponse(settings: ResponseSettings, surface: Surface, judged: Judged): Check[] {
  const { of, roughness, reached, haze, glass } = judged;
  return [
    ...(reached ? [] : [outOfReach(settings.glossGu.value, roughness, of)]),
    ...takenOnTrust(settings),
    ...unlikeItsWorking(settings, surface),
    ...contradicting(haze),
    ...(settings.coat ? checkCoat(settings.coat) : []),
    ...checkGlossOfParts(settings, surface, judged.ofPart),
    ...checkMetals(settings, surface),
    ...checkGlass(settings, glass),
    ...checkBrushed(settings, judged.brushed),
    ...checkCloth(settings),
    ...unusedByMap(settings, surface),
    ...spreadOfNothing(settings, surface),
  ];
}

function outOfReach(glossGu: number, roughness: number, of: ReflectingSurface): Check {
  const asked = printNumber(glossGu, 0);
  const material = of.kind === 'metal' ? 'this reflectance' : `index ${printNumber(of.index, 3)}`;
  return wrong(
    'response',
    'gloss-out-of-reach',
    roughness === 0
      ? `${asked} GU cannot be reached: a perfect mirror of ${material} has ${printNumber(highestGloss(of), 0)} GU.`
      : `${asked} GU is below the most matt surface this material can have.`,
  );
}

/** A gloss that faces worked so do not have: a flamed slab is no polished one. */
function unlikeItsWorking({ glossGu, parts }: ResponseSettings, { laid }: Surface): Check[] {
  if (!laid?.usualGloss || parts?.some(({ part }) => part === 'face')) return [];
  const {
    working,
    glossGu: [from, to],
  } = laid.usualGloss;
  if (glossGu.value >= from && glossGu.value <= to) return [];
  const name = working.charAt(0).toUpperCase() + working.slice(1);
  return [
    open(
      'response',
      'gloss-of-working',
      `${name} faces usually read ${from} to ${to} GU at 60°; the finish has ${printNumber(glossGu.value, 0)} GU.`,
    ),
  ];
}

/** Parts that are gone, and glosses that the material cannot have. */
function checkGlossOfParts(
  { parts = [] }: ResponseSettings,
  surface: Surface,
  ofPart: Judged['ofPart'],
): Check[] {
  return parts.flatMap(({ part, glossGu }) => {
    if (!surface.parts.has(part))
      return [
        wrong(
          'response',
          `gloss-part-missing-${part}`,
          `A gloss is given for a part that this finish does not have, so it counts nowhere. ${insteadOfPart(surface.parts)}`,
        ),
      ];
    const of = ofPart(part);
    const { roughness, reached } = roughnessOfGloss(glossGu.value, of);
    return reached
      ? []
      : [{ ...outOfReach(glossGu.value, roughness, of), code: `gloss-out-of-reach-${part}` }];
  });
}

function checkMetals(settings: ResponseSettings, surface: Surface): Check[] {
  const { metals = [], films = [] } = settings;
  const named = [...metals.map(({ part }) => part), ...films.flatMap(({ part }) => part ?? [])];
  return [
    ...[...new Set(named)]
      .filter((part) => !surface.parts.has(part))
      .map((part) =>
        wrong(
          'response',
          `metal-part-missing-${part}`,
          `A metal or a film is given for a part that this finish does not have, so it counts nowhere. ${insteadOfPart(surface.parts)}`,
        ),
      ),
    ...filmsOnNothing(settings).map(({ part }) =>
      wrong(
        'response',
        `film-on-nothing-${part ?? 'all'}`,
        `The film on ${part === null ? 'the finish' : `the part “${surface.parts.get(part)?.name ?? part}”`} lies on nothing whose optical constants are known, so its colour cannot be computed. Choose a metal with known constants, or type its n and k.`,
      ),
    ),
  ];
}

function checkCoat({ glossGu, index }: CoatSettings): Check[] {
  const of: ReflectingSurface = { kind: 'dielectric', index: index.value };
  const { roughness, reached } = roughnessOfGloss(glossGu.value, of);
  return [
    ...(reached ? [] : [{ ...outOfReach(glossGu.value, roughness, of), code: 'coat-gloss-out-of-reach' }]),
    ...(glossGu.basis === 'assumed'
      ? [
          open(
            'response',
            'coat-gloss-assumed',
            `The gloss of the clear coat, ${printNumber(glossGu.value, 0)} GU, is assumed.`,
          ),
        ]
      : []),
  ];
}

const checkBrushed = ({ glossGu, brushed }: ResponseSettings, found: BrushedReport | null): Check[] =>
  brushed && found && !found.reached
    ? [
        wrong(
          'response',
          'brushed-out-of-reach',
          `No brushed surface of this material reads ${printNumber(glossGu.value, 0)} GU along and ${printNumber(brushed.acrossGu.value, 0)} GU across its scratches; the nearest reads ${printNumber(found.readsAlongGu, 0)} and ${printNumber(found.readsAcrossGu, 0)} GU. Across them it is the more matt one.`,
        ),
      ]
    : [];

const percent = (share: number) => printNumber(100 * share, 1);

function checkGlass({ base, coat, sheen, openness }: ResponseSettings, glass: GlassReport | null): Check[] {
  if (base.kind !== 'glass' || !glass) return [];
  const { lightPercent } = base;
  return [
    ...(glass.beyond
      ? [
          wrong(
            'response',
            'glass-too-clear',
            `Glass of index ${printNumber(base.index.value, 3)} lets at most ${percent(glass.clear)} % through: its two surfaces reflect the rest. ${printNumber(lightPercent.value, 1)} % in this hue is more; the most is taken. Lower the transmittance, or see to the index and the hue.`,
          ),
        ]
      : []),
    ...(lightPercent.basis === 'assumed'
      ? [
          open(
            'response',
            'glass-light-assumed',
            `The light transmittance of ${printNumber(lightPercent.value, 0)} % is assumed.`,
          ),
        ]
      : []),
    ...(coat || sheen || openness
      ? [
          open(
            'response',
            'glass-with-cloth',
            'Glass has neither a clear coat, a nap nor openings; what is set of them is not used.',
          ),
        ]
      : []),
  ];
}

/** Threads that let more through than the openings leave; nap and openings of a metal. */
function checkCloth({ base, sheen, openness }: ResponseSettings): Check[] {
  return [
    ...(openness && openness.diffusePercent.value + openness.openPercent.value > 100
      ? [
          wrong(
            'response',
            'more-light-than-there-is',
            `Openings let ${printNumber(openness.openPercent.value, 0)} % straight through and threads ${printNumber(openness.diffusePercent.value, 0)} % scattered: more light than there is. Together they are at most 100 %.`,
          ),
        ]
      : []),
    ...(sheen && base.kind === 'metal'
      ? [open('response', 'sheen-on-metal', 'A bare metal has no nap; the sheen is meant for cloth.')]
      : []),
  ];
}

const contradicting = (haze: HazeReport | null): Check[] =>
  haze?.contradicts
    ? [
        wrong(
          'response',
          'gloss-readings-contradict',
          `No surface of this material reads ${METER_ANGLES.filter((a) => haze.read[a] !== undefined)
            .map((a) => `${printNumber(haze.read[a]!, 1)} GU at ${a}°`)
            .join(
              ', ',
            )}; the nearest is off by ${printNumber(haze.restGu, 1)} GU. Read again, or see to the refractive index.`,
        ),
      ]
    : [];

const unusedByMap = ({ parts = [], variation = [] }: ResponseSettings, { maps }: Surface): Check[] =>
  parts.length + variation.length > 0 && (maps.has('roughness') || maps.has('gloss'))
    ? [
        open(
          'response',
          'gloss-variation-unused',
          'The set has a roughness or gloss map, which stands in place of the gloss of parts and its variation. Take the map out of the set in Sample, or remove them.',
        ),
      ]
    : [];

const spreadOfNothing = ({ spreadLike, variation = [] }: ResponseSettings, { maps }: Surface): Check[] =>
  spreadLike && !variation.some(({ byGu }) => byGu !== 0) && !maps.has('roughness') && !maps.has('gloss')
    ? [
        open(
          'response',
          'gloss-spread-of-nothing',
          `The gloss is to be spread as that of ${spreadLike.name}, but nothing says where it is higher or lower. Add a variation.`,
        ),
      ]
    : [];

const takenOnTrust = ({ glossGu }: ResponseSettings): Check[] =>
  glossGu.basis === 'assumed'
    ? [open('response', 'gloss-assumed', `The gloss of ${printNumber(glossGu.value, 0)} GU is assumed.`)]
    : [];
