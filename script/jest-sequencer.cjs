const Sequencer = require('@jest/test-sequencer').default;

/** Long files first, so that none of them is left for one core at the end. */
module.exports = class extends Sequencer {
  sort(tests) {
    const sorted = super.sort(tests);
    const isLong = ({ path }) => path.includes('.long.test.');
    return [...sorted.filter(isLong), ...sorted.filter((test) => !isLong(test))];
  }
};
