import { readJson } from './json-body';
import { longText, nameText, seenOnly } from './text';

test('names are put into one form, and refused with characters that cannot be seen', () => {
  const name = nameText(10, 'Give it a name.');
  expect(name.parse('  cafe\u0301 ')).toBe('café');
  expect(name.safeParse(' ').error!.issues[0]!.message).toBe('Give it a name.');
  for (const hidden of ['a\u202eb', 'a\u0007b', 'a\nb', 'a\ufeffb'])
    expect(name.safeParse(hidden).error!.issues[0]!.message).toMatch(/cannot be seen/);
  expect(name.safeParse('elevenchars').success).toBe(false);
  expect(longText(20).parse('two\nlines')).toBe('two\nlines');
  expect(longText(20).safeParse('turned \u2067 round').success).toBe(false);
  expect(seenOnly('a\0b\u202ec\n\nd\ud800')).toBe('abc d\ufffd');
});

test('JSON is read as it is, or refused with what is wrong', () => {
  const read = (text: string) => readJson(Buffer.from(text));
  expect(read('{"a":[1,"é","\\ud83d\\ude00"]}')).toEqual({ a: [1, 'é', '😀'] });
  expect(read(' ')).toBeUndefined();
  expect(() => read('{"a":')).toThrow(/not JSON/);
  expect(() => readJson(Buffer.from([0x22, 0xff, 0x22]))).toThrow(/not UTF-8/);
  expect(() => read(`${'['.repeat(70)}${']'.repeat(70)}`)).toThrow(/nested more than 64/);
  expect(read(`["${'['.repeat(70)}"]`)).toHaveLength(1);
  for (const text of ['{"a":"\\u0000"}', '{"\\u0000":1}', '["\\ud800"]'])
    expect(() => read(text)).toThrow(/NUL|surrogate/);
  expect(() => read('{"__proto__":{}}')).toThrow(/__proto__/);
});
