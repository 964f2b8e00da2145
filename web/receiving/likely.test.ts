import { likelyCategory, likelyName } from './likely';

const origin = { supplier: '', line: '', code: '', batch: '', permission: '', note: '' };
const named = (fileName: string, more: Partial<typeof origin> = {}) => ({
  fileName,
  origin: { ...origin, ...more },
});

test.each([
  ['IMG_2041_oak-floor.jpg', 'timber'],
  ['washed-lime.png', 'other'],
  ['Ash_plank_04.tif', 'timber'],
  ['grey-clinker-wall.jpg', 'brick'],
  ['encaustic tile 3.png', 'ceramic'],
  ['terrazzo_fine.jpg', 'concrete'],
  ['slate-roof.jpg', 'stone'],
  ['brushed-steel.png', 'metal'],
  ['hopsack.png', 'textile'],
  ['cork.webp', 'resilient'],
  ['fluted-glass-1.jpg', 'glass'],
  ['glazed_panel.jpg', 'ceramic'],
  ['scan0001.tif', 'other'],
] as const)('%s is likely %s', (fileName, category) => {
  expect(likelyCategory(named(fileName))).toBe(category);
});

test('the file is asked before the origin', () => {
  expect(likelyCategory(named('scan.tif', { line: 'Brickworks' }))).toBe('brick');
  expect(likelyCategory(named('oak.tif', { supplier: 'Brick and tile' }))).toBe('timber');
});

test('a product is called by its own name, a file by its file', () => {
  expect(likelyName({ ...named('swatch_17-b.png'), cameFrom: 'file' })).toBe('Swatch 17 b');
  const product = named('swatch.png', { note: 'Pale hearthstone' });
  expect(likelyName({ ...product, cameFrom: 'supplier' })).toBe('Pale hearthstone');
});
