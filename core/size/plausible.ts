import type { Axis, ResolvedSize } from './resolve';

/** What is usual for the modules of a category, mm: shorter and longer side of a piece, and how it is called. */
interface Usual {
  piece: string;
  shorterMm: readonly [number, number];
  longerMm: readonly [number, number];
}

const USUAL: Readonly<Record<string, Usual>> = {
  timber: { piece: 'board', shorterMm: [20, 450], longerMm: [150, 6000] },
  ceramic: { piece: 'tile', shorterMm: [8, 1500], longerMm: [8, 3200] },
  brick: { piece: 'brick', shorterMm: [30, 160], longerMm: [150, 520] },
  stone: { piece: 'slab', shorterMm: [20, 1600], longerMm: [40, 3200] },
  plaster: { piece: 'module', shorterMm: [50, 3000], longerMm: [50, 6000] },
  concrete: { piece: 'panel', shorterMm: [50, 4000], longerMm: [100, 12000] },
  textile: { piece: 'thread or draft', shorterMm: [0.1, 700], longerMm: [0.1, 1500] },
  glass: { piece: 'pane or module', shorterMm: [2, 3300], longerMm: [5, 6000] },
  metal: { piece: 'sheet or module', shorterMm: [0.5, 1500], longerMm: [0.5, 6000] },
  resilient: { piece: 'tile or sheet', shorterMm: [10, 2000], longerMm: [10, 4000] },
};

/** Density of a picture beyond which it is hardly a photograph or scan of a finish, px per mm. */
const DENSITY: readonly [number, number] = [0.02, 400];

export interface Doubt {
  axis: Axis;
  about: 'module' | 'density';
  /** A question in plain words. */
  question: string;
}

/**
 * Questions figures that are unlikely for their category; never refuses them.
 * @param size the resolved size
 * @param category id of the finish's category
 */
export function doubtsAboutSize(size: ResolvedSize, category: string): Doubt[] {
  const doubts: Doubt[] = [];
  const usual = USUAL[category];
  const mm = (v: number) => `${Number(v.toPrecision(4))}\u2009mm`;
  const modules = { across: size.width.module, up: size.height.module };
  const both = modules.across && modules.up;
  for (const axis of ['across', 'up'] as const) {
    const name = axis === 'across' ? 'wide' : 'high';
    const pitch = modules[axis]?.pitchMm;
    if (usual && pitch !== undefined) {
      const other = modules[axis === 'across' ? 'up' : 'across']?.pitchMm;
      // Counted on one axis alone, boards and courses are counted by their shorter side.
      const [from, to] = both && pitch > other! ? usual.longerMm : usual.shorterMm;
      if (pitch < from || pitch > to)
        doubts.push({
          axis,
          about: 'module',
          question: `A ${usual.piece} ${mm(pitch)} ${name}? Usual is ${mm(from)} to ${mm(to)}.`,
        });
    }
    const density = axis === 'across' ? size.pxPerMm.x : size.pxPerMm.y;
    const length = axis === 'across' ? size.width.mm : size.height.mm;
    if (density < DENSITY[0] || density > DENSITY[1])
      doubts.push({
        axis,
        about: 'density',
        question: `A sample ${mm(length)} ${name}? That would be ${Number(density.toPrecision(2))} pixels per mm.`,
      });
  }
  return doubts;
}
