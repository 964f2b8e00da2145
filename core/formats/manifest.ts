import { z } from 'zod';
import { labToXyz } from '../colour';
import { leadGeometry, leadingPicture, type Recipe, type RenderReport } from '../finish';
import { familyOf, figuresIn } from '../generate';
import { colourSchema, lightSchema } from '../light/settings';
import { sizeSchema } from '../size';
import { BASES, type Figure } from '../units';

/** The manifest that goes with every handover: sizes in mm, the basis of each figure, and a checksum of every file. */

const mm2 = z.object({ width: z.number(), height: z.number() });
const manifestFigure = z.object({
  name: z.string(),
  value: z.number(),
  unit: z.string(),
  basis: z.enum(BASES),
  tolerance: z.number().optional(),
  note: z.string().optional(),
});

export const manifestSchema = z
  .object({
    schema: z.literal('jossel.manifest/2'),
    finishes: z.array(
      z.object({
        name: z.string(),
        category: z.string(),
        revision: z.string(),
        colourway: z.string().nullable().describe('Name of the colourway; null: the finish itself'),
        folder: z.string(),
        origin: z.object({
          supplier: z.string(),
          line: z.string(),
          code: z.string(),
          batch: z.string(),
          permission: z.string(),
        }),
        repeatMm: mm2,
        repeatToleranceMm: mm2.describe('How far the size of the repeat may be off, its stretch included'),
        inferredTimes: z
          .number()
          .describe('How many times finer than the picture its detail is; what is beyond 1 is inferred'),
        elementScale: z.number().describe('Size of the pattern against the sample; 1 is true'),
        sampleMm: mm2,
        pxPerMm: z.object({ x: z.number(), y: z.number() }),
        light: lightSchema
          .nullable()
          .describe('Levelling and balance of the leading picture; null: the finish is generated'),
        colour: colourSchema.describe('Match and corrections, and which of what is known ruled'),
        target: z
          .object({ mean: z.number(), worst: z.number(), worstPatch: z.string() })
          .nullable()
          .describe('What the target card left, CIEDE2000; null without one'),
        size: sizeSchema
          .nullable()
          .describe(
            'All that was known of the size, as typed, and which of it ruled; null: the finish is generated',
          ),
        generated: z
          .looseObject({ kind: z.string() })
          .nullable()
          .describe('What the finish is generated as; null: it is made of its pictures'),
        figures: z.array(manifestFigure),
        measured: z.object({
          lrv: z.number(),
          meanLab: z.array(z.number()).length(3),
          seam: z.object({ acrossWidth: z.number(), acrossHeight: z.number() }),
        }),
        heightMm: z
          .object({ min: z.number(), max: z.number(), zero: z.number() })
          .describe('Heights of black and white of the height map, and of the level that stays in place'),
        shared: z
          .object({
            splitMm: z
              .number()
              .describe('The height map holds waves longer than this, normals and occlusion shorter ones'),
            wholeMm: z.object({ min: z.number(), max: z.number() }).describe('Heights of the whole relief'),
          })
          .nullable()
          .describe('Relief shared between mesh and normals; null: height and normals each hold all of it'),
        weathering: z
          .object({
            layers: z.array(
              z.object({ name: z.string(), covers: z.number().describe('Share of the surface, 0–1') }),
            ),
            lrv: z.number().nullable().describe('Reflectance over all layers; null: none lies'),
            wallMm: z
              .number()
              .nullable()
              .describe('Height of the wall that it is for, mm: it does not repeat upwards; null: it does'),
          })
          .nullable()
          .describe('What happened to the finish after it was laid; null: nothing'),
        glass: z
          .object({
            transmitted: z
              .number()
              .describe('Share of daylight that the pane lets through, at normal incidence'),
            reflected: z.number().describe('Share that it reflects, at normal incidence'),
            shadow: z
              .array(z.object({ angleDeg: z.number(), darkness: z.number() }))
              .describe(
                'How dark its shadow is by angle of incidence, 0–1, for receivers that do not trace it',
              ),
          })
          .nullable()
          .describe('Glass; null: it is none'),
        normalOrientation: z.literal('y up (glTF)'),
        roughness: z.literal('perceptual; alpha = roughness squared (glTF)'),
        checks: z.array(z.string()),
        files: z.array(
          z.object({
            path: z.string(),
            map: z.string(),
            widthPx: z.number().int().optional(),
            heightPx: z.number().int().optional(),
            bitDepth: z.number().int().optional(),
            colourSpace: z.string().optional(),
            unit: z.string().optional().describe('Of values that are kept as they are, such as mm'),
            bytes: z.number().int(),
            sha256: z.string().length(64),
          }),
        ),
      }),
    ),
  })
  .describe('Manifest of a handover');

export type Manifest = z.infer<typeof manifestSchema>;
export type ManifestFinish = Manifest['finishes'][number];

/**
 * All figures of a recipe under their names, as typed, with the sizes that follow from them.
 * @param sample shape of the leading picture; undefined: the finish is generated
 * @param way a colourway: it has the reflectance of its own target; null: the finish itself
 */
export function figuresOf(
  recipe: Recipe,
  sample: { widthPx: number; heightPx: number } | undefined,
  way: string | null = null,
): ManifestFinish['figures'] {
  const out: ManifestFinish['figures'] = [];
  const put = (name: string, f: Figure | null) => f && out.push({ name, ...f });
  const known = leadingPicture(recipe)?.size;
  if (known && sample) {
    const { size } = leadGeometry(recipe, sample);
    for (const axis of ['across', 'up'] as const) {
      if (known.ruling[axis] === 'count') put(`module ${axis}`, known.count[axis]!.moduleMm);
      if (known.ruling[axis] === 'structure') put(`pitch ${axis}`, known.structure[axis]!.pitchMm);
    }
    for (const side of ['width', 'height'] as const) {
      const { mm, basis, toleranceMm, from } = size[side];
      put(`physical ${side} of the sample`, {
        value: mm,
        unit: 'mm',
        basis,
        tolerance: toleranceMm,
        note: from,
      });
    }
  }
  const { generated } = recipe;
  if (generated)
    for (const { name, figure } of figuresIn(familyOf(generated.kind).settings, generated)) put(name, figure);
  put('light reflectance value', givenReflectance(recipe, way));
  const { layout } = recipe;
  if (layout) {
    put('length of a piece', layout.piece.lengthMm);
    put('width of a piece', layout.piece.widthMm);
    put('joint along', layout.joint.alongMm);
    put('joint across', layout.joint.acrossMm);
    put('depth of the joint', layout.joint.depthMm);
  }
  for (const { name, depthMm } of recipe.relief.contributions)
    put(recipe.relief.contributions.length === 1 ? 'relief depth' : `relief depth, ${name}`, depthMm);
  const { glossGu, gloss20Gu, gloss85Gu, coat, parts: glossOfParts = [] } = recipe.response;
  put('gloss at 60°', glossGu);
  put('gloss at 60° of the clear coat', coat?.glossGu ?? null);
  put('refractive index of the clear coat', coat?.index ?? null);
  put('thickness of the clear coat', coat?.tint?.thicknessMm ?? null);
  put('light that passes the clear coat once', coat?.tint?.lightPercent ?? null);
  put('thickness that this light is given for', coat?.tint?.ofThicknessMm ?? null);
  put('gloss at 20°', gloss20Gu ?? null);
  put('gloss at 85°', gloss85Gu ?? null);
  for (const { part, glossGu: own } of glossOfParts) put(`gloss at 60° of the part ${part}`, own);
  const { base } = recipe.response;
  if (base.kind !== 'metal') put('refractive index', base.index);
  if (base.kind === 'glass') {
    put('thickness of the pane', base.thicknessMm);
    put('light transmittance', base.lightPercent);
    put('thickness that the light transmittance is given for', base.ofThicknessMm);
    put('haze of the satin side', base.hazePercent ?? null);
    const { laminate } = base;
    put('thickness of the second glass', laminate?.second.thicknessMm ?? null);
    put('light transmittance of the second glass', laminate?.second.lightPercent ?? null);
    put(
      'thickness that the light transmittance of the second glass is given for',
      laminate?.second.ofThicknessMm ?? null,
    );
    put('thickness of the interlayer', laminate?.interlayerMm ?? null);
    put('light that passes the interlayer once', laminate?.interlayerPercent ?? null);
  }
  const { brushed, openness, films = [] } = recipe.response;
  put('gloss at 60° across the scratches', brushed?.acrossGu ?? null);
  put('open area', openness?.openPercent ?? null);
  put('light scattered by the threads', openness?.diffusePercent ?? null);
  for (const { part, thicknessNm, index } of films) {
    const on = part === null ? '' : ` on the part ${part}`;
    put(`thickness of the film${on}`, thicknessNm);
    put(`refractive index of the film${on}`, index);
  }
  return out;
}

/** The reflectance that was given for a finish, or that the colour of a colourway has; null: none was given. */
function givenReflectance({ colour }: Recipe, way: string | null): Figure<'LRV'> | null {
  if (way === null) return colour.lrv;
  const target = colour.ways.find((w) => w.id === way)?.target;
  if (!target) return null;
  const { lab, basis, note } = target;
  const value = Number((100 * labToXyz(lab)[1]).toFixed(2));
  return { value, unit: 'LRV', basis, ...(note ? { note } : {}) };
}

/** What the manifest says about one finish, without its files. */
export function describeFinish(
  finish: {
    name: string;
    category: string;
    revision: string;
    colourway: string | null;
    folder: string;
    origin: ManifestFinish['origin'];
  },
  recipe: Recipe,
  report: RenderReport,
  sample: { widthPx: number; heightPx: number } | undefined,
  shared: { splitMm: number; meshMm: { min: number; max: number } } | null = null,
): Omit<ManifestFinish, 'files'> {
  const { min, max, zero } = report.heightMm;
  return {
    ...finish,
    repeatMm: report.repeatMm,
    repeatToleranceMm: report.repeatToleranceMm,
    inferredTimes: report.inferred,
    elementScale: recipe.repeat.elements.scale,
    sampleMm: report.sampleMm,
    pxPerMm: report.pxPerMm,
    size: leadingPicture(recipe)?.size ?? null,
    light: leadingPicture(recipe)?.light ?? null,
    generated: recipe.generated,
    colour: recipe.colour,
    target: report.calibration.target && {
      mean: report.calibration.target.meanError,
      worst: report.calibration.target.worst.error,
      worstPatch: report.calibration.target.worst.name,
    },
    figures: figuresOf(recipe, sample, report.way),
    measured: {
      lrv: report.lrv,
      meanLab: [...report.meanLab],
      seam: { acrossWidth: report.seam.acrossWidth, acrossHeight: report.seam.acrossHeight },
    },
    heightMm: { ...(shared?.meshMm ?? { min, max }), zero },
    shared: shared && { splitMm: shared.splitMm, wholeMm: { min, max } },
    weathering: report.weathering && {
      layers: report.weathering.layers.map(({ name, covers }) => ({ name, covers })),
      lrv: report.weathering.layers.at(-1)?.lrv ?? null,
      wallMm: report.weathering.wallMm,
    },
    glass: report.glass && {
      transmitted: report.glass.transmitted,
      reflected: report.glass.reflected,
      shadow: report.glass.shadow.at.map(([angleDeg, darkness]) => ({ angleDeg, darkness })),
    },
    normalOrientation: 'y up (glTF)',
    roughness: 'perceptual; alpha = roughness squared (glTF)',
    checks: report.checks.map((c) => c.text),
  };
}
