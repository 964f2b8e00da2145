/** Prints "PASSED FAILED" of a result file by Jest or Playwright, and what failed on standard error; fails when there is none or nothing ran. */
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';

const ofJest = (results) => ({
  passed: results.numPassedTests,
  failed: results.numFailedTests + results.numRuntimeErrorTestSuites,
  names: results.testResults
    .filter((file) => file.status === 'failed')
    .flatMap((file) => {
      const failing = file.assertionResults.filter((test) => test.status === 'failed');
      const path = relative(process.cwd(), file.name);
      return failing.length ? failing.map((test) => `${path} › ${test.fullName}`) : [path];
    }),
});

const specsOf = (suite) => [...suite.specs, ...(suite.suites ?? []).flatMap(specsOf)];
const ofPlaywright = ({ stats, suites, errors }) => ({
  passed: stats.expected + stats.flaky,
  failed: stats.unexpected + errors.length,
  names: suites
    .flatMap(specsOf)
    .filter((spec) => !spec.ok)
    .map((spec) => `e2e/${spec.file} › ${spec.title}`),
});

const results = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const { passed, failed, names } = 'numPassedTests' in results ? ofJest(results) : ofPlaywright(results);
if (passed + failed === 0) process.exit(1);
for (const name of names) console.error(name);
console.log(`${passed} ${failed}`);
