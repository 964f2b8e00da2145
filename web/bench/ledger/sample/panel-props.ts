import type { Recipe } from '@jossel/core/finish';
import type { PictureSource, SampleGeometry } from '@jossel/core/sources';
import type { Sample } from '../../../app/api';

/** What the panels of the sample are given. */
export interface PanelProps {
  recipe: Recipe;
  /** The picture in hand, and its sample. */
  source: PictureSource;
  sample: Sample;
  geometry: SampleGeometry | null;
}
