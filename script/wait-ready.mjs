/** Waits until a server is healthy: wait-ready.mjs URL [PID]; gives up when the process ends or after 60 s. */
const [url, pid] = process.argv.slice(2);
const until = Date.now() + 60000;
for (;;) {
  try {
    if ((await fetch(`${url}/api/health`)).ok) process.exit(0);
  } catch {
    // not listening yet
  }
  if (pid) {
    try {
      process.kill(Number(pid), 0);
    } catch {
      process.exit(1);
    }
  }
  if (Date.now() > until) process.exit(1);
  await new Promise((resolve) => setTimeout(resolve, 100));
}
