import { likelyCategory, likelyName } from './likely';

const origin = { supplier: '', line: '', code: '', batch: '', permission: '', note: '' };
const report = {
  clippedHighlights: 0,
  clippedBlacks: 0,
  lightFall: 0,
  noise: 0,
  sharpness: 0.8,
  sentences: [],
};
const named = (fileName: string, more: Partial<typeof origin> = {}) => ({
  fileName,
  origin: { ...origin, ...more },
  report,
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
  expect(likelyCategory(named(fileName))).toEqual({ category, shows: null });
});

test('the file is asked before the origin', () => {
  expect(likelyCategory(named('scan.tif', { line: 'Brickworks' })).category).toBe('brick');
  expect(likelyCategory(named('oak.tif', { supplier: 'Brick and tile' })).category).toBe('timber');
});

test('a picture is asked where no name says what it is', () => {
  const looks = { category: 'textile', shows: 'fine threads both ways' } as const;
  const pictured = (fileName: string) => ({ ...named(fileName), report: { ...report, looksLike: looks } });
  expect(likelyCategory(pictured('scan0001.tif'))).toEqual(looks);
  expect(likelyCategory(pictured('oak.tif'))).toEqual({ category: 'timber', shows: null });
  expect(likelyCategory({ ...named('a.tif'), report: { ...report, looksLike: null } }).category).toBe(
    'other',
  );
});

test('a product is called by its own name, a file by its file', () => {
  expect(likelyName({ ...named('swatch_17-b.png'), cameFrom: 'file' })).toBe('Swatch 17 b');
  const product = named('swatch.png', { note: 'Pale hearthstone' });
  expect(likelyName({ ...product, cameFrom: 'supplier' })).toBe('Pale hearthstone');
});
