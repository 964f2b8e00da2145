/** @jest-environment ./script/jest-page-environment.cjs */
import { settingsSlice, storedSettings, storeSettings } from './settings-slice';

const usual = settingsSlice.getInitialState();
beforeEach(() => localStorage.clear());

test('settings are kept in the browser, and what a newer Jossel adds is as it begins', () => {
  expect(storedSettings()).toEqual(usual);
  storeSettings({ ...usual, units: 'imperial', surround: 80 });
  expect(storedSettings()).toEqual({ ...usual, units: 'imperial', surround: 80 });
  localStorage.setItem('jossel.settings', JSON.stringify({ surround: 40 }));
  expect(storedSettings()).toEqual({ ...usual, surround: 40 });
});

test.each(['', '{"units":', 'null'])('what is broken (%j) is as it begins', (text) => {
  localStorage.setItem('jossel.settings', text);
  expect(storedSettings()).toEqual(usual);
});
