import type { Manifest, ManifestFinish } from '@jossel/core/formats';
import type { Basis } from '@jossel/core/units';

/** What is in a package, by the headline figures of each finish: what a list of packages shows, without their manifests. */
export interface PackedFinish {
  repeatMm: { width: number; height: number };
  sizeBasis: Basis | null;
  lrv: number;
  lrvBasis: Basis | null;
  glossGu: number;
  glossBasis: Basis | null;
  reliefMm: number;
  reliefBasis: Basis | null;
  /** Wavelength at which the relief is shared between mesh and normals; null: it is not. */
  splitMm: number | null;
  /** Of the colour map; null: there is none. */
  px: { width: number; height: number } | null;
  files: number;
}

export const contentsOf = ({ finishes }: Manifest): PackedFinish[] => finishes.map(packed);

function packed(finish: ManifestFinish): PackedFinish {
  const figure = (name: string) => finish.figures.find((f) => f.name.includes(name));
  const basis = (name: string) => figure(name)?.basis ?? null;
  // Manifests of former versions say nothing of sharing.
  const whole = finish.shared?.wholeMm ?? finish.heightMm;
  const colour = finish.files.find((f) => f.map === 'colour');
  return {
    repeatMm: finish.repeatMm,
    sizeBasis: basis('width'),
    lrv: finish.measured.lrv,
    lrvBasis: basis('light reflectance'),
    glossGu: figure('gloss')?.value ?? 0,
    glossBasis: basis('gloss'),
    reliefMm: whole.max - whole.min,
    splitMm: finish.shared?.splitMm ?? null,
    reliefBasis: basis('relief depth'),
    px: colour?.widthPx && colour.heightPx ? { width: colour.widthPx, height: colour.heightPx } : null,
    files: finish.files.length,
  };
}
