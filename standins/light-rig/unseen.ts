import type { BenchSample } from '../capture/samples';
import { boards, bricks, cloth, setts, slates, stones, tiles } from '../physical/kinds';

/**
 * Samples that measured relief is judged by and nothing of it was tuned on: other seeds, sizes, colours and joints than those of the
 * bench. Look at them, do not choose settings by them: make others for that.
 */
export const UNSEEN_SAMPLES: readonly BenchSample[] = [
  {
    id: 'unseen-pale-tiles',
    name: 'Pale tiles',
    category: 'ceramic',
    pxPerMm: 3,
    ...tiles(171, [2, 2], [73, 73], '#8fa3a0'),
  },
  {
    ...{ id: 'unseen-red-tiles', name: 'Red tiles in half bond', category: 'ceramic', pxPerMm: 3.5 },
    ...tiles(172, [3, 2], [45, 60], '#7d2f28', { jointMm: 4, shift: 0.5 }),
  },
  {
    ...{ id: 'unseen-pale-brick', name: 'Pale brick', category: 'brick', pxPerMm: 1.8 },
    ...bricks(175, [1, 3], '#c0a070', '#8a6a40', '#8a857c'),
  },
  {
    ...{ id: 'unseen-english', name: 'Dark brick in English bond', category: 'brick', pxPerMm: 1.8 },
    ...bricks(176, [1, 4], '#8a3f30', '#3a2020', '#d0c8b8', { bond: 'english' }),
  },
  { id: 'unseen-setts', name: 'Setts in rows', category: 'stone', pxPerMm: 1.1, ...setts(181, [380, 330]) },
  { id: 'unseen-slates', name: 'Slates', category: 'stone', pxPerMm: 0.9, ...slates(182, [506, 426]) },
  {
    ...{ id: 'unseen-ashlar', name: 'Random ashlar', category: 'stone', pxPerMm: 1 },
    ...stones(183, [420, 360], 'random-ashlar', [140, 90], 8, '#8f897d'),
  },
  {
    ...{ id: 'unseen-boards', name: 'Narrow boards', category: 'timber', pxPerMm: 4 },
    ...boards(173, [110, 2 * 50], 50, '#b89060', '#6a4a2c', { jointMm: 1.6 }),
  },
  {
    ...{ id: 'unseen-plain-weave', name: 'Plain weave', category: 'textile', pxPerMm: 12 },
    ...cloth(177, [36, 28], 'plain', [7, 7], ['#40506a'], ['#c8c0b0']),
  },
  {
    ...{ id: 'unseen-twill', name: 'Brown twill', category: 'textile', pxPerMm: 12 },
    ...cloth(178, [36, 28], 'twill22', [10, 9], ['#805030', '#60402a'], ['#d8c0a0']),
  },
];
