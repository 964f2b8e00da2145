/**
 * What every test file begins with: properties are tried on the same cases in every run, so that a change is judged by what it changes.
 * PROPERTY_SEED=random (or a number) npx jest … tries others; do so when you write or change one.
 */
const fc = require('fast-check');

const asked = process.env.PROPERTY_SEED ?? '1';
if (asked !== 'random') fc.configureGlobal({ seed: Number(asked) });
