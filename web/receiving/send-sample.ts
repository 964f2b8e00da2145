import type { Origin, Sample } from '../app/api';

/** Sends a picture with progress; `done` fails with the server's sentence. */
export function sendSample(
  file: File,
  origin: Partial<Origin>,
  onProgress: (share: number) => void,
): { done: Promise<Sample>; stop: () => void } {
  const request = new XMLHttpRequest();
  const done = new Promise<Sample>((resolve, reject) => {
    // Said here already, so that nobody waits for 256 MiB to be refused.
    if (file.size > 256 * 1024 * 1024) {
      reject(
        new Error(
          `${file.name} has ${(file.size / 1024 / 1024).toFixed(0)} MiB; a file may have at most 256 MiB. Save the picture with compression, or cut it up.`,
        ),
      );
      return;
    }
    const form = new FormData();
    for (const [key, value] of Object.entries(origin)) if (value) form.append(key, value);
    form.append('file', file);
    request.open('POST', '/api/samples');
    request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total);
    request.onload = () => {
      try {
        const answer = JSON.parse(request.responseText) as Sample & { detail?: string };
        if (request.status === 201) resolve(answer);
        else reject(new Error(answer.detail ?? `The server answered ${request.status}.`));
      } catch {
        reject(new Error(`The server answered ${request.status}.`));
      }
    };
    request.onerror = () =>
      reject(new Error('The server did not answer. Check that Jossel runs, and drop the picture again.'));
    request.send(form);
  });
  return { done, stop: () => request.abort() };
}
