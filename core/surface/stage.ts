import type { Check } from './check';
import type { RenderContext } from './context';
import { refuseBeyond, type Cost } from './cost';
import type { Surface } from './surface';

/**
 * One stage of making a finish. Stages run in working order, each on what the one before hands over. A stage adds or
 * replaces fields; it computes nothing that nobody asks for.
 */
export interface Stage<Settings, In, Out, Report> {
  readonly name: string;
  /** Rises when the same settings give another result, so that what was issued can say what it was made by. */
  readonly version: number;
  /** Share of the time of a whole render, roughly; shares are relative to each other. */
  readonly work: number;
  /** @throws Refusal when the settings cannot be */
  run(ctx: RenderContext, settings: Settings, before: In): Promise<Out> | Out;
  /** What it came to, in figures, and what of it does not hold. Called only where somebody asks for what it makes. */
  report(ctx: RenderContext, settings: Settings, made: Out): Promise<Reported<Report>> | Reported<Report>;
}

export interface Reported<Report> {
  report: Report;
  checks: Check[];
}

/** A stage that works on a surface and hands it over with fields added or replaced. */
export interface SurfaceStage<Settings, Report> {
  readonly name: string;
  readonly version: number;
  readonly work: number;
  /** @throws Refusal when the settings cannot be */
  run<S extends Surface>(ctx: RenderContext, settings: Settings, surface: S): S;
  report(
    ctx: RenderContext,
    settings: Settings,
    surface: Surface,
  ): Promise<Reported<Report>> | Reported<Report>;
}

/** A stage with the part of a recipe that it is set by. */
interface Step<Recipe> {
  stage: Stage<unknown, unknown, unknown, object>;
  settingsOf: (recipe: Recipe) => unknown;
}

/** Stages in working order, each fitting the one before. */
export class Pipeline<Recipe, Out, Report extends object> {
  private constructor(private readonly steps: readonly Step<Recipe>[]) {}

  static of<Recipe>(): Pipeline<Recipe, null, object> {
    return new Pipeline<Recipe, null, object>([]);
  }

  /** Adds a stage at the end. @param settingsOf its part of the recipe */
  then<Settings, Next, More extends object>(
    stage: Stage<Settings, Out, Next, More>,
    settingsOf: (recipe: Recipe) => Settings,
  ): Pipeline<Recipe, Next, Report & More> {
    return new Pipeline<Recipe, Next, Report & More>([...this.steps, { stage: stage as never, settingsOf }]);
  }

  /** Adds a stage that works on the surface as it is then. @param settingsOf its part of the recipe */
  on<Settings, More extends object>(
    stage: SurfaceStage<Settings, More>,
    settingsOf: (recipe: Recipe) => Settings,
  ): Pipeline<Recipe, Out, Report & More> {
    return new Pipeline<Recipe, Out, Report & More>([...this.steps, { stage: stage as never, settingsOf }]);
  }

  /** Version of every stage, as an issued revision keeps it. */
  get versions(): Record<string, number> {
    return Object.fromEntries(this.steps.map(({ stage }) => [stage.name, stage.version]));
  }

  /**
   * What computing all of it would cost, by what its stages expect. Nothing is computed but geometry.
   * @throws Refusal where a stage refuses its settings
   */
  async costs(ctx: RenderContext, recipe: Recipe): Promise<readonly Cost[]> {
    await this.plan(ctx, recipe);
    return ctx.costs;
  }

  /** What every stage hands over, before anybody asks for its fields. */
  private async plan(ctx: RenderContext, recipe: Recipe): Promise<unknown[]> {
    const all = this.steps.reduce((sum, { stage }) => sum + stage.work, 0);
    const made: unknown[] = [];
    let before = 0;
    for (const { stage, settingsOf } of this.steps) {
      const part = ctx.part(before / all, (before += stage.work) / all);
      made.push(await stage.run(part, settingsOf(recipe), made.at(-1) ?? null));
    }
    return made;
  }

  /**
   * Runs all stages, then computes what is wanted of the outcome, then asks the stages for their reports.
   * @param want computes fields of the outcome
   * @param reports names of the stages that report; default: all
   * @throws Refusal where it would cost more than the budget of the context
   */
  async run<T>(
    ctx: RenderContext,
    recipe: Recipe,
    want: (made: Out) => Promise<T>,
    reports?: ReadonlySet<string>,
  ): Promise<{ wanted: T; report: Report; checks: Check[] }> {
    const made = await this.plan(ctx, recipe);
    refuseBeyond(ctx.options.budget ?? {}, ctx.costs);
    const wanted = await want(made.at(-1) as Out);
    let report = {};
    const checks: Check[] = [];
    for (const [k, { stage, settingsOf }] of this.steps.entries()) {
      if (reports && !reports.has(stage.name)) continue;
      const said = await stage.report(ctx, settingsOf(recipe), made[k]);
      report = { ...report, ...said.report };
      checks.push(...said.checks);
    }
    return { wanted, report: report as Report, checks };
  }
}
