import { FORM_TABLE, LIGHT_TABLE } from '@jossel/core/proof';
import { fileName } from '@jossel/core/formats';
import { printNumber } from '@jossel/core/units';
import { theme } from '../../app/theme';
import type { Refined } from '../../workers/proof.worker';
import { FOV_DEG, type Setting, type View } from './Draft';

const MARGIN_PX = 12;
const FOOT_PX = 46;
/** Lengths that a scale bar has, m. */
const BARS = [0.05, 0.1, 0.2, 0.5, 1, 2, 5];

/** A refined picture, and from where it looks. */
export interface Picture {
  refined: Refined;
  view: View;
}

/** Saves the refined picture with a scale bar, which holds at the distance that is looked to, and what it shows. */
export function saveProof({ refined, view }: Picture, name: string, setting: Setting): void {
  const { widthPx, heightPx, rgba } = refined;
  const canvas = document.createElement('canvas');
  canvas.width = widthPx;
  canvas.height = heightPx + FOOT_PX;
  const context = canvas.getContext('2d')!;
  context.fillStyle = theme.sheet;
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.putImageData(new ImageData(rgba, widthPx, heightPx), 0, 0);
  const distance = Math.hypot(...[0, 1, 2].map((a) => view.eye[a]! - view.target[a]!));
  const pxPerM = heightPx / (2 * distance * Math.tan((FOV_DEG * Math.PI) / 360));
  const bar = BARS.filter((m) => m * pxPerM < widthPx * 0.3).at(-1) ?? BARS[0]!;
  context.fillStyle = theme.ink;
  context.fillRect(MARGIN_PX, heightPx + 20, bar * pxPerM, 3);
  context.font = "12px 'Archivo Variable', sans-serif";
  context.fillText(`${printNumber(bar, 2)} m`, MARGIN_PX, heightPx + 14);
  context.fillText(sentenceOf(name, setting), MARGIN_PX, heightPx + 39, widthPx - 2 * MARGIN_PX);
  canvas.toBlob((blob) => {
    if (!blob) return;
    const link = document.createElement('a');
    link.href = URL.createObjectURL(blob);
    link.download = `${fileName(name)}-${setting.form}-${setting.light.name}.png`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  }, 'image/png');
}

/** What a picture shows. */
function sentenceOf(name: string, { form, light, reliefTimes }: Setting): string {
  const { name: lightName, lamp } = LIGHT_TABLE[light.name];
  const from = lamp ? ` from ${light.azimuthDeg}°, ${light.elevationDeg}° high` : '';
  const relief = reliefTimes === 1 ? '' : `; relief ${printNumber(reliefTimes, 1)} times its depth`;
  return `${name}; ${FORM_TABLE[form].caption}; ${lightName}${from}${relief}`;
}
