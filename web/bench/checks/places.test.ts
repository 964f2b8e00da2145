import { placeOf } from './places';

const at = (code: string, section = 'size') => placeOf({ code, section: section as never });

test.each([
  ['permission-0b7e', 'sample', 'Permission to use'],
  ['unlikely-module-across', 'size', 'How the width is known'],
  ['size-height-count', 'size', 'How the height is known'],
  ['size-assumed', 'size', 'How the width is known'],
  ['reflectance-open', 'colour', 'Light reflectance value'],
  ['colour-colour', 'colour', 'Colour'],
  ['asked-across', 'repeat', 'Repeat, width'],
  ['stretched-up', 'repeat', 'Closing, vertical'],
  ['depth-assumed', 'relief', 'Depth'],
  ['joints-proud', 'relief', 'Add joints'],
  ['joints-unseen', 'relief', 'Depth of joints'],
  ['looks-printed', 'relief', 'Depth'],
  ['gloss-out-of-reach', 'response', 'Gloss at 60°'],
])('%s leads to the section %s and its field', (code, section, field) => {
  expect(at(code)).toMatchObject({ state: { section }, field });
});

test('a check of another kind leads to its section', () => {
  expect(at('something-new', 'relief')).toEqual({ state: { section: 'relief' } });
});

test('a check of one of several pictures leads where that of the leading one does', () => {
  expect(at('size-assumed-p2')).toEqual(at('size-assumed'));
});
