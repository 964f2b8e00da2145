import { colourStage, type ColourStageSettings } from '../light';
import { reliefStage } from '../relief';
import { repeatStage } from '../repeat';
import { responseStage } from '../response';
import { sourcesStage } from '../sources';
import { Pipeline } from '../surface';
import { leadingPicture, type Recipe } from './recipe';

/** The stages of a finish in working order, each with its part of the recipe. A new stage is one line here. */
export const FINISH = Pipeline.of<Recipe>()
  .then(sourcesStage, ({ sources, repeat }) => ({ sources, lead: repeat.from[0]?.source ?? null }))
  .then(repeatStage, ({ repeat }) => repeat)
  .on(colourStage, colourSettings)
  .on(reliefStage, ({ relief }) => relief)
  .on(responseStage, ({ response }) => response);

function colourSettings(recipe: Recipe): ColourStageSettings {
  const { light } = leadingPicture(recipe) ?? {};
  return {
    colour: recipe.colour,
    balanced: light !== undefined && light.balance !== 'none',
    metal: recipe.response.base.kind === 'metal',
  };
}

/** Version of every stage, as an issued revision keeps it. */
export const STAGE_VERSIONS: Readonly<Record<string, number>> = FINISH.versions;
