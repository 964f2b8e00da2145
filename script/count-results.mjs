/** Prints "PASSED FAILED" of a result file by Jest or Playwright; fails when there is none or nothing ran. */
import { readFileSync } from 'node:fs';

const results = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const [passed, failed] =
  'numPassedTests' in results
    ? [results.numPassedTests, results.numFailedTests + results.numRuntimeErrorTestSuites]
    : [results.stats.expected + results.stats.flaky, results.stats.unexpected + results.errors.length];
if (passed + failed === 0) process.exit(1);
console.log(`${passed} ${failed}`);
