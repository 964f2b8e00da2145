import { plus, type Vector } from '../../vector';
import { block, rectangle, sheet, type Mesh } from './mesh';

/** Forms of the proof, all at real size, with things of known size beside them. */

export const FORMS = [
  'panel',
  'sphere',
  'cylinder',
  'box',
  'drape',
  'pane',
  'room-wall',
  'room-floor',
  'wall',
] as const;
export type FormName = (typeof FORMS)[number];

export interface Form {
  name: string;
  /** What stands there, with its size. */
  caption: string;
  /** Where one looks to and from how far, m, and how high one stands above that. */
  camera: { target: Vector; distance: number; fromRightDeg: number; fromAboveDeg: number };
  /** The finish is displaced by its relief on a mesh this fine. */
  displaced: boolean;
  /**
   * @param wallM height of the wall that the finish is for, where it does not repeat upwards: it reaches no higher
   */
  build: (wallM?: number) => Mesh[];
}

/** A grey card and a rule of tenths of a metre beside a form. */
const references = (x: number, z: number, tenths: number, wide: number): Mesh[] => [
  ...Array.from({ length: tenths }, (_, i) =>
    block(i % 2 === 0 ? 'dark' : 'light', [x, 0.1 * i, z], [wide, 0.1, wide * 0.4]),
  ).flat(),
  rectangle('card', [x + wide * 1.2, 0, z], [wide * CARD, 0, 0], [0, wide * CARD, 0]),
];
/** Side of the card against the width of the rule. */
const CARD = 3.5;

const ground = (radius: number): Mesh =>
  rectangle('ground', [-radius, -0.001, radius], [2 * radius, 0, 0], [0, 0, -2 * radius]);

const SIDE = { panel: 2.4, sphere: 0.6, box: 0.5 } as const;
const CYLINDER = { across: 0.45, high: 0.6 } as const;
/** Hung cloth: its width as cut and as it hangs, its height, and its folds. */
const DRAPE = { cut: 2.2, hung: 1.4, high: 2.4, folds: 9 } as const;
const PANE = { wide: 1.2, high: 2.0, behind: 0.6 } as const;
const ROOM = { wide: 3.6, deep: 3.2, high: 2.7, doorWide: 0.9, doorHigh: 2.1, seat: 0.45 } as const;
const WALL = { wide: 12, high: 6 } as const;

const small = (y: number) => ({
  target: [0.06, y, 0] as Vector,
  distance: 1.75,
  fromRightDeg: 15,
  fromAboveDeg: 8,
});

export const FORM_TABLE: Readonly<Record<FormName, Form>> = {
  panel: {
    name: 'panel',
    caption: '2.4 × 2.4 m, 1 m rule',
    camera: { target: [0.18, 1.2, 0], distance: 5.6, fromRightDeg: 15, fromAboveDeg: 5 },
    displaced: true,
    build: (wallM = Infinity) => [
      rectangle('finish', [-1.2, 0, 0], [SIDE.panel, 0, 0], [0, Math.min(SIDE.panel, wallM), 0], 200),
      ...references(1.34, 0, 10, 0.05),
      ground(3),
    ],
  },
  sphere: {
    name: 'sphere',
    caption: '⌀ 0.6 m, 0.5 m rule',
    camera: small(0.3),
    displaced: false,
    build: () => [sphere(SIDE.sphere / 2), ...references(0.44, 0, 5, 0.02), ground(1.2)],
  },
  cylinder: {
    name: 'cylinder',
    caption: '⌀ 0.45, 0.6 m high, 0.5 m rule',
    camera: small(0.3),
    displaced: false,
    build: () => [cylinder(), ...references(0.44, 0, 5, 0.02), ground(1.2)],
  },
  box: {
    name: 'box',
    caption: '0.5 m edge, 0.5 m rule',
    camera: small(0.25),
    displaced: false,
    build: () => [
      ...block('finish', [0, 0, 0], [SIDE.box, SIDE.box, SIDE.box], -0.55),
      ...references(0.48, 0, 5, 0.02),
      ground(1.2),
    ],
  },
  drape: {
    name: 'drape',
    caption: '2.2 m of cloth, hung 1.4 × 2.4 m, 1 m rule',
    camera: { target: [0.15, 1.2, 0], distance: 5.2, fromRightDeg: 20, fromAboveDeg: 4 },
    displaced: false,
    build: () => [drape(), ...references(0.86, 0.1, 10, 0.05), ground(3)],
  },
  pane: {
    name: 'pane',
    caption: '1.2 × 2.0 m, 0.6 m before a ground of 100 mm squares',
    camera: { target: [0, 1, -0.2], distance: 5, fromRightDeg: 22, fromAboveDeg: 6 },
    displaced: false,
    build: () => [
      rectangle('finish', [-PANE.wide / 2, 0.02, 0], [PANE.wide, 0, 0], [0, PANE.high, 0], 48),
      ...squares(),
      ...references(0.72, 0, 10, 0.05),
      ground(3),
    ],
  },
  'room-wall': {
    name: 'wall of a room',
    caption: 'corner of 3.6 × 3.2 × 2.7 m, door 0.9 × 2.1 m, seat 0.45 m high',
    camera: { target: [0.1, 1.25, -0.4], distance: 6.8, fromRightDeg: 14, fromAboveDeg: 6 },
    displaced: false,
    build: (wallM) => room('wall', wallM),
  },
  'room-floor': {
    name: 'floor of a room',
    caption: 'corner of 3.6 × 3.2 × 2.7 m, door 0.9 × 2.1 m, seat 0.45 m high',
    camera: { target: [0.1, 1, -0.2], distance: 6.8, fromRightDeg: 14, fromAboveDeg: 16 },
    displaced: false,
    build: () => room('floor'),
  },
  wall: {
    name: 'wall of 12 × 6 m',
    caption: '12 × 6 m, door 0.9 × 2.1 m',
    camera: { target: [0, 3, 0], distance: 16, fromRightDeg: 10, fromAboveDeg: 2 },
    displaced: false,
    build: (wallM = Infinity) => [
      rectangle('finish', [-WALL.wide / 2, 0, 0], [WALL.wide, 0, 0], [0, Math.min(WALL.high, wallM), 0], 8),
      ...block('door', [3.2, 0, 0.02], [ROOM.doorWide, ROOM.doorHigh, 0.04]),
      ...references(6.2, 0, 10, 0.05).slice(0, -1),
      rectangle('card', [6.5, 0, 0], [0.8, 0, 0], [0, 0.8, 0]),
      ground(12),
    ],
  },
};

/** A wall of the finish, bare above the height that the finish is for. */
function wallOfRoom(foot: Vector, wide: number, high: number, wallM = high): Mesh[] {
  const covered = Math.min(high, wallM);
  const finish = rectangle('finish', foot, [wide, 0, 0], [0, covered, 0], 8);
  if (covered === high) return [finish];
  return [finish, rectangle('wall', plus(foot, [0, covered, 0]), [wide, 0, 0], [0, high - covered, 0], 8)];
}

const sphere = (radius: number): Mesh =>
  sheet('finish', 160, 96, (u, v) => {
    const [around, up] = [2 * Math.PI * (u - 0.5), Math.PI * (v - 0.5)];
    return {
      at: [
        radius * Math.cos(up) * Math.sin(around),
        radius + radius * Math.sin(up),
        radius * Math.cos(up) * Math.cos(around),
      ],
      uvMm: [2000 * Math.PI * radius * u, 1000 * Math.PI * radius * v],
    };
  });

/** Open at its ends: what closes is its side. */
const cylinder = (): Mesh =>
  sheet('finish', 192, 4, (u, v) => {
    const [around, radius] = [2 * Math.PI * (u - 0.5), CYLINDER.across / 2];
    return {
      at: [radius * Math.sin(around), CYLINDER.high * v, radius * Math.cos(around)],
      uvMm: [2000 * Math.PI * radius * u, 1000 * CYLINDER.high * v],
    };
  });

const DRAPE_STEPS = 432;

/**
 * Cloth that hangs in folds. Across, the depth of a fold is a wave over the length of the cloth, and the way along x is what
 * is left of that length: so the cloth is neither stretched nor squeezed. Folds are deeper below than at the heading.
 */
function drape(): Mesh {
  const { cut, hung, high, folds } = DRAPE;
  /** Depth of the folds at which the cloth is as wide as it hangs. */
  const slopeFor = amplitudeFor(hung / cut);
  const line = Array.from({ length: DRAPE_STEPS + 1 }, () => 0);
  for (let i = 1; i <= DRAPE_STEPS; i++) line[i] = line[i - 1]! + stepOf((i - 0.5) / DRAPE_STEPS, slopeFor);
  const xAt = (u: number) => {
    const place = Math.min(DRAPE_STEPS - 1e-6, Math.max(0, u * DRAPE_STEPS));
    const k = Math.floor(place);
    return (line[k]! + (line[k + 1]! - line[k]!) * (place - k)) * (cut / DRAPE_STEPS);
  };
  const depth = (slopeFor * cut) / (2 * Math.PI * folds);
  return sheet('finish', DRAPE_STEPS, 12, (u, v) => ({
    at: [
      xAt(u) - hung / 2,
      high * v,
      depth * Math.sin(2 * Math.PI * folds * u) + 0.02 * Math.sin(4 * v) * (1 - v),
    ],
    uvMm: [1000 * cut * u, 1000 * high * v],
  }));

  function stepOf(u: number, slope: number): number {
    const dz = slope * Math.cos(2 * Math.PI * folds * u);
    return Math.sqrt(Math.max(0, 1 - dz * dz));
  }
}

/** Slope of a wave over its own length at which it takes a share of that length along. */
function amplitudeFor(share: number): number {
  let [low, high] = [0, 1];
  for (let k = 0; k < 40; k++) {
    const slope = (low + high) / 2;
    let sum = 0;
    for (let i = 0; i < 64; i++) {
      const dz = slope * Math.cos((2 * Math.PI * (i + 0.5)) / 64);
      sum += Math.sqrt(1 - dz * dz) / 64;
    }
    if (sum > share) low = slope;
    else high = slope;
  }
  return (low + high) / 2;
}

/** Squares of 100 mm, dark and light by turns, behind the pane. */
function squares(): Mesh[] {
  const meshes: Mesh[] = [];
  for (let y = 0; y < 22; y++)
    for (let x = -10; x < 10; x++)
      meshes.push(
        rectangle(
          (x + y) % 2 === 0 ? 'dark' : 'light',
          [x / 10, y / 10, -PANE.behind],
          [0.1, 0, 0],
          [0, 0.1, 0],
        ),
      );
  return meshes;
}

/** A corner of a room: two walls, a floor, a door and a seat; open towards the viewer and above. */
function room(finish: 'wall' | 'floor', wallM?: number): Mesh[] {
  const { wide, deep, high, doorWide, doorHigh, seat } = ROOM;
  const [left, back] = [-wide / 2, -deep / 2];
  const corner: Vector = [left, 0, back];
  return [
    ...(finish === 'wall'
      ? wallOfRoom(corner, wide, high, wallM)
      : [rectangle('wall', corner, [wide, 0, 0], [0, high, 0], 8)]),
    rectangle('wall', plus(corner, [0, 0, deep]), [0, 0, -deep], [0, high, 0], 8),
    rectangle(
      finish === 'floor' ? 'finish' : 'ground',
      plus(corner, [0, 0, deep]),
      [wide, 0, 0],
      [0, 0, -deep],
      8,
    ),
    ...block('door', [wide / 2 - 0.75, 0, back + 0.03], [doorWide, doorHigh, 0.05]),
    ...block('seat', [left + 0.65, 0, back + 1.1], [0.45, seat, 0.45], 0.2),
    rectangle('card', [wide / 2 + 0.1, 0, 0.4], [0.4, 0, 0], [0, 0.4, 0]),
  ];
}
