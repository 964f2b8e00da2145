import { fromBuffer, type Entry, type ZipFile } from 'yauzl';

/** All files of a zip. */
export async function unzip(bytes: Buffer): Promise<Map<string, Buffer>> {
  const files = new Map<string, Buffer>();
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    fromBuffer(bytes, { lazyEntries: true }, (e, z) => (e ? reject(e) : resolve(z))),
  );
  await new Promise<void>((resolve, reject) => {
    zip.on('entry', (entry: Entry) =>
      zip.openReadStream(entry, async (error, stream) => {
        if (error) return reject(error);
        const chunks: Buffer[] = [];
        for await (const chunk of stream) chunks.push(chunk as Buffer);
        files.set(entry.fileName, Buffer.concat(chunks));
        zip.readEntry();
      }),
    );
    zip.on('end', resolve);
    zip.on('error', reject);
    zip.readEntry();
  });
  return files;
}
