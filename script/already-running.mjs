/** Says which Jossel is at a port, if one is. Exit status 0: none is. */
const url = `http://127.0.0.1:${process.argv[2]}`;
const health = await fetch(`${url}/api/health`, { signal: AbortSignal.timeout(3000) })
  .then((answer) => answer.json())
  .catch(() => null);
if (health?.status === 'ok' && health.version) {
  console.error(
    `Jossel ${health.version} already runs at ${url}. Stop it there with Ctrl-C, or set JOSSEL_PORT (and JOSSEL_DATA) to run another one.`,
  );
  process.exit(1);
}
