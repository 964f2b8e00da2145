import { atOnce } from '../steps';
import { Canvas, familyOf, generatedSizeMm, type GeneratedSettings } from '../generate';

/** A family painted by itself, without the stages that follow it. @param widthPx of its repeat */
export async function paintedFamily(
  settings: GeneratedSettings,
  widthPx: number,
  version?: number,
): Promise<Canvas> {
  const { kind, seed } = settings;
  const family = familyOf(kind);
  const sizeMm = generatedSizeMm(settings);
  const px = { width: widthPx, height: Math.max(8, Math.round((widthPx * sizeMm.height) / sizeMm.width)) };
  const canvas = new Canvas(sizeMm, px, seed, async () => undefined, version);
  const solved = family.solve && atOnce(family.solve(settings as never, sizeMm, seed));
  await family.paint(canvas, settings as never, solved as never);
  return canvas;
}
