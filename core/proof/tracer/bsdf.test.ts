import { seededRandom } from '../../raster';
import { metalColour, reflectanceOverAngle, type ResponseSettings } from '../../response';
import { figure } from '../../units';
import { Bsdf, napOf } from './bsdf';

/** What a surface scatters in all from an even white sky: by the directions it draws, and by even ones. */
function inAll(bsdf: Bsdf, cos: number, samples = 60000) {
  const random = seededRandom(7);
  bsdf.seenFrom(Math.sqrt(1 - cos * cos), 0, cos);
  let drawn = 0;
  for (let i = 0; i < samples; i++)
    if (bsdf.draw(random.next(), random.next(), random.next())) drawn += bsdf.g / bsdf.pdf;
  let even = 0;
  for (let i = 0; i < samples; i++) {
    const z = 2 * random.next() - 1;
    const phi = 2 * Math.PI * random.next();
    const flat = Math.sqrt(1 - z * z);
    bsdf.from(flat * Math.cos(phi), flat * Math.sin(phi), z);
    even += bsdf.g * 4 * Math.PI;
  }
  return { drawn: drawn / samples, even: even / samples };
}

const white = (changes: Partial<Bsdf> = {}): Bsdf =>
  Object.assign(new Bsdf(), { baseR: 1, baseG: 1, baseB: 1, ...changes });
const rough = (roughness: number) => ({
  roughness,
  alphaX: roughness * roughness,
  alphaY: roughness * roughness,
});

describe('a white surface under a white sky gives back all light, within two percent', () => {
  const surfaces: [string, Bsdf][] = [
    ['matt', white(rough(1))],
    ['satin', white(rough(0.5))],
    ['polished', white(rough(0.1))],
    ['of a high index', white({ ...rough(0.4), f0: 0.17 })],
    ['metal, matt', white({ ...rough(0.9), metal: 1 })],
    ['metal, polished', white({ ...rough(0.2), metal: 1 })],
    ['under a coat', white({ ...rough(0.7), coat: 1, coatAlpha: 0.01, coatRoughness: 0.1 })],
    ['metal under a coat', white({ ...rough(0.4), metal: 1, coat: 1, coatAlpha: 0.09, coatRoughness: 0.3 })],
    ['that lets light through', white({ ...rough(0.8), through: 0.4 })],
  ];
  test.each(surfaces)('%s', (_, bsdf) => {
    for (const cos of [1, 0.7, 0.35]) {
      const { drawn } = inAll(bsdf, cos);
      expect(Math.abs(drawn - 1)).toBeLessThan(0.02);
    }
  });
});

test('directions are drawn as likely as is said: both ways of summing agree', () => {
  for (const bsdf of [
    white({ ...rough(0.6), baseG: 0.5 }),
    white({ roughness: 0.4, alphaX: 0.5, alphaY: 0.16, metal: 1 }),
    white({ ...rough(0.8), nap: napOf([0.4, 0.4, 0.4], 0.5), baseG: 0.3 }),
  ])
    for (const cos of [0.9, 0.5]) {
      const { drawn, even } = inAll(bsdf, cos, 200000);
      expect(Math.abs(drawn - even)).toBeLessThan(0.015);
    }
});

test('a nap adds light at grazing angles and takes none from the cloth beyond it', () => {
  const bare = white({ ...rough(0.9), baseG: 0.3 });
  const napped = white({ ...rough(0.9), baseG: 0.3, nap: napOf([0.5, 0.5, 0.5], 0.3) });
  const gain = (cos: number) => inAll(napped, cos).drawn - inAll(bare, cos).drawn;
  expect(gain(0.15)).toBeGreaterThan(gain(0.9) + 0.05);
  expect(inAll(napped, 0.15).drawn).toBeLessThan(1);
});

test('a film on a metal has at every angle the colour that its spectrum has there', () => {
  const of = { from: 'constants', metal: 'titanium' } as const;
  const film = { part: null, thicknessNm: figure(140, 'nm', 'measured'), index: figure(2.3, '1', 'assumed') };
  const settings: ResponseSettings = {
    base: { kind: 'metal', of },
    glossGu: figure(300, 'GU', 'measured'),
    films: [film],
  };
  const linear = metalColour(of, film)!.linear;
  const polished = { ...rough(0.08), metal: 1, baseR: linear[0], baseG: linear[1], baseB: linear[2] };
  const bsdf = white({ ...polished, overAngle: reflectanceOverAngle(settings) });
  for (const cos of [1, 0.8, 0.5, 0.25]) {
    const wanted = metalColour(of, film, (Math.acos(cos) * 180) / Math.PI)!.linear[1];
    expect(Math.abs(inAll(bsdf, cos).drawn - wanted)).toBeLessThan(0.01);
  }
  // By Schlick's formula it would keep its hue: here by more than a tenth too dark or too light.
  const schlick = inAll(white(polished), 0.5).drawn;
  expect(Math.abs(schlick - metalColour(of, film, 60)!.linear[1])).toBeGreaterThan(0.05);
});
