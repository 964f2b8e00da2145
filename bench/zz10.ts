import sharp from 'sharp';
import { writeFileSync } from 'node:fs';
import { laidScene } from '../standins/laid/scenes';
import { linearToSrgbBytes } from '@jossel/core/colour';
const ids: any = {};
for (const nv of ['half bond:1', 'cobbles:2', 'English bond:2']) {
  const [name, v] = nv.split(':');
  const { picture } = laidScene(name!, Number(v));
  const png = await sharp(Buffer.from(linearToSrgbBytes(picture, 3)), { raw: { width: picture.widthPx, height: picture.heightPx, channels: 3 } }).png().toBuffer();
  const form = new FormData(); form.append('file', new Blob([new Uint8Array(png)]), `${name}.png`); form.append('permission', 'given');
  const s: any = await (await fetch('http://127.0.0.1:4399/api/samples', { method: 'POST', body: form })).json();
  const f: any = await (await fetch('http://127.0.0.1:4399/api/finishes', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ name: `Wall ${name}`, category: 'brick', sampleIds: [s.id] }) })).json();
  ids[name!] = f.id;
}
writeFileSync('/tmp/ids.json', JSON.stringify(ids)); console.log(ids);
