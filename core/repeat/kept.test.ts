import { decodeKept, encodeKept, type KeptRepeat } from './index';

const KEPT: KeptRepeat = {
  id: 'x',
  sizeMm: { width: 700, height: 500.25 },
  cells: {
    widthPx: 3,
    heightPx: 2,
    copy: Uint16Array.from([0, 1, 65535, 2, 2, 0]),
    placements: [
      { sourceIndex: 0, signX: 1, signY: -1, offsetXMm: 0.1, offsetYMm: -3.25 },
      { sourceIndex: 1, swapped: true, signX: 1, signY: 1, offsetXMm: 1 / 3, offsetYMm: 0 },
    ],
    closed: { across: true, up: false },
    parted: { rows: Uint8Array.from([1, 0, 1]), columns: Uint8Array.from([0, 0]) },
  },
  copies: 2,
  brokenHoldMm: 0,
  evened: {
    picture: {
      widthPx: 3,
      heightPx: 2,
      r: Float32Array.from([0.1, -0.2, 1e-9, 0, 5, 6]),
      g: new Float32Array(6),
      b: new Float32Array(6),
    },
  },
};

test('a kept repeat comes back as it was, to the last bit, wherever its bytes lie', () => {
  const bytes = encodeKept(KEPT);
  expect(decodeKept(bytes, 'x')).toEqual(KEPT);
  const shifted = new Uint8Array(bytes.length + 3);
  shifted.set(bytes, 3);
  expect(decodeKept(shifted.subarray(3), 'x')).toEqual(KEPT);
});

test('other bytes are not taken for one', () => {
  expect(() => decodeKept(new Uint8Array(4), 'x')).toThrow(/not a kept repeat/);
  expect(() => decodeKept(new Uint8Array(400), 'x')).toThrow(/not a kept repeat/);
});
