import type { Manifest, ManifestFinish } from '@jossel/core/formats';
import { reliefRangeMm } from '@jossel/core/relief';
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
  /** Of the colour map; null: there is none. */
  px: { width: number; height: number } | null;
  files: number;
}

export const contentsOf = ({ finishes }: Manifest): PackedFinish[] => finishes.map(packed);

function packed(finish: ManifestFinish): PackedFinish {
  const figure = (name: string) => finish.figures.find((f) => f.name.includes(name));
  const basis = (name: string) => figure(name)?.basis ?? null;
  const colour = finish.files.find((f) => f.map === 'colour');
  return {
    repeatMm: finish.repeatMm,
    sizeBasis: basis('width'),
    lrv: finish.measured.lrv,
    lrvBasis: basis('light reflectance'),
    glossGu: figure('gloss')?.value ?? 0,
    glossBasis: basis('gloss'),
    reliefMm: reliefRangeMm(finish),
    reliefBasis: basis('relief depth'),
    px: colour?.widthPx && colour.heightPx ? { width: colour.widthPx, height: colour.heightPx } : null,
    files: finish.files.length,
  };
}
