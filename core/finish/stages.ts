import { generateStage } from '../generate';
import { colourStage, type ColourStageSettings } from '../light';
import { reliefStage } from '../relief';
import { layoutStage } from '../layout';
import { repeatStage, type AsFaces, type RepeatSettings } from '../repeat';
import { baseMetalColour, glassOf, responseStage } from '../response';
import { sourcesStage } from '../sources';
import { Pipeline, Refusal } from '../surface';
import { weatheringStage } from '../weathering';
import { leadingPicture, usableAreas, type Recipe } from './recipe';

/** The stages of a finish in working order, each with its part of the recipe. A new stage is one line here. */
export const FINISH = Pipeline.of<Recipe>()
  .then(sourcesStage, ({ sources, repeat, generated }) =>
    generated ? { sources: [], lead: null } : { sources, lead: repeat.from[0]?.source ?? null },
  )
  .then(generateStage, ({ generated }) => generated)
  .then(repeatStage, repeatSettings)
  .on(colourStage, colourSettings)
  .on(layoutStage, ({ layout }) => layout)
  .on(reliefStage, ({ relief }) => relief)
  .on(weatheringStage, ({ weathering }) => weathering)
  .on(responseStage, ({ response }) => response);

/** Where pieces are cut from picked areas, all areas of the pictures lie side by side, and nothing has to close. */
function repeatSettings({ repeat, layout, sources, generated }: Recipe): RepeatSettings & AsFaces {
  if (layout?.faces.from !== 'areas') return repeat;
  if (generated) return { ...repeat, asFaces: true };
  const lead = repeat.from[0]?.source;
  const inOrder = [...sources.filter((s) => s.id === lead), ...sources.filter((s) => s.id !== lead)];
  const from = inOrder.flatMap((s) => usableAreas(s).map((a) => ({ source: s.id, area: a.id })));
  if (from.length === 0)
    throw new Refusal(
      'no-areas',
      'Pieces are to be cut from picked areas, but none is picked yet. Pick areas in Sample, or cut the pieces from the repeat.',
      'layout.faces',
    );
  return { ...repeat, from, asFaces: true };
}

function colourSettings(recipe: Recipe): ColourStageSettings {
  const { light } = leadingPicture(recipe) ?? {};
  return {
    colour: ofMaterial(recipe),
    balanced: recipe.generated !== null || (light !== undefined && light.balance !== 'none'),
    metal: recipe.response.base.kind === 'metal',
    glass: recipe.response.base.kind === 'glass',
  };
}

/**
 * A metal of known optical constants has the colour that follows from them, whatever else is known of the colour; glass that of
 * daylight seen through it.
 */
function ofMaterial({ colour, response }: Recipe): ColourStageSettings['colour'] {
  const { base } = response;
  const known =
    base.kind === 'glass'
      ? { name: 'daylight seen through the pane', lab: glassOf(base).lab }
      : baseMetalColour(response);
  if (!known) return colour;
  const [l, a, b] = known.lab;
  return { ...colour, ruling: 'colour', colour: { lab: [l, a, b], basis: 'published', note: known.name } };
}

/** Stages whose reports say what colour a finish has: the response too, where it changes the colour. */
export const colourReports = ({ response }: Pick<Recipe, 'response'>): string[] =>
  response.openness || response.metals?.length || response.coat?.tint ? ['colour', 'response'] : ['colour'];

/** Version of every stage, as an issued revision keeps it. */
export const STAGE_VERSIONS: Readonly<Record<string, number>> = FINISH.versions;
