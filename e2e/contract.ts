import type { ReliefToPlan } from '@jossel/core/schedule';
import type * as finishes from '../server/services/finishes';
import type * as lightSets from '../server/services/light-sets';
import type * as looks from '../server/services/looks';
import type * as outside from '../server/services/outside';
import type * as projects from '../server/services/projects';
import type * as plans from '../server/services/relief-plans';
import type * as samples from '../server/services/samples';
import type * as tasks from '../server/services/tasks';
import type * as page from '../web/app/api';
import type * as projectPage from '../web/projects/project-api';
import type * as receiving from '../web/receiving/receiving-api';
import type * as lightSetPage from '../web/samples/light-set-api';

/**
 * What the page takes the server's answers for is what the server sends. The compiler checks it; nothing here runs. An answer that is
 * changed on one side alone does not compile.
 */

/** A value as JSON brings it over. */
type Sent<T> = T extends Date
  ? string
  : T extends readonly unknown[]
    ? { [K in keyof T]: Sent<T[K]> }
    : T extends object
      ? { [K in keyof T]: Sent<T[K]> }
      : T;
type AnswerOf<F extends (...args: never[]) => unknown> = Sent<Awaited<ReturnType<F>>>;
/** Does not compile unless what is sent can be used as what the page expects. */
type Fits<Answer extends Expected, Expected> = [Answer, Expected];

export type Contract = [
  Fits<AnswerOf<typeof projects.showProject>, projectPage.Project>,
  Fits<AnswerOf<typeof projects.allProjects>, projectPage.ProjectItem[]>,
  Fits<AnswerOf<typeof plans.reliefDetail>, ReliefToPlan>,
  Fits<AnswerOf<typeof finishes.showFinish>, page.Finish>,
  Fits<AnswerOf<typeof finishes.pageOfFinishes>['items'][number], page.FinishItem>,
  Fits<AnswerOf<typeof finishes.surfacesOf>['items'][number], page.SurfaceOfFinish>,
  Fits<AnswerOf<typeof samples.showSample>, page.Sample>,
  Fits<AnswerOf<typeof samples.pageOfSamples>['items'][number], page.Sample>,
  Fits<AnswerOf<typeof samples.sampleColour>, page.ColourReadingAnswer>,
  Fits<AnswerOf<typeof looks.finishColour>['repeat'], page.ColourReadingAnswer>,
  Fits<AnswerOf<typeof tasks.showHandover>, page.Handover>,
  Fits<AnswerOf<typeof outside.products>['items'][number], page.Product>,
  Fits<AnswerOf<typeof outside.addresses>, page.Addresses>,
  Fits<AnswerOf<typeof outside.takeLightSet>, receiving.TakenLightSet>,
  Fits<AnswerOf<typeof lightSets.showLightSet>, lightSetPage.LightSetAnswer>,
];
