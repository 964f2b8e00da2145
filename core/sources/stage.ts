import type { RenderContext, Reported, Stage } from '../surface';
import { checkSize } from './checks';
import { frameAndSize, type Source } from './source';
import type { PictureSource } from './settings';

/** What the sources stage is set by: the sources, and which of them leads. */
export interface SourcesSettings {
  sources: readonly PictureSource[];
  /** Id of the source that gives its size to those without one; null: there is none. */
  lead: string | null;
}

/** Straightens the pictures of a finish and works out their sizes. */
export const sourcesStage: Stage<SourcesSettings, null, readonly Source[], object> = {
  name: 'sources',
  version: 1,
  work: 1,

  async run(ctx: RenderContext, { sources, lead }: SourcesSettings): Promise<readonly Source[]> {
    const prepared = async (settings: PictureSource, leads?: Source): Promise<Source> => {
      const info = await ctx.pictures.info(settings.sampleId);
      return { settings, info, ...frameAndSize(settings, info, leads?.size) };
    };
    const first = sources.find((s) => s.id === lead);
    const leads = first && (await prepared(first));
    const out: Source[] = [];
    for (const settings of sources)
      out.push(leads && settings === first ? leads : await prepared(settings, leads));
    return out;
  },

  report(ctx, { lead }, made): Reported<object> {
    const checks = made.flatMap((source, k) => {
      if (!source.settings.size) return [];
      const found = checkSize(source.size, ctx.asked.category);
      // The leading picture is the one that "the size" means; others are named.
      return source.settings.id === lead
        ? found
        : found.map((check) => ({
            ...check,
            code: `${check.code}-${source.settings.id}`,
            text: `Picture ${k + 1}: ${check.text}`,
          }));
    });
    return { report: {}, checks };
  },
};
