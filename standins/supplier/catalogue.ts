import { boards, bricks, cloth, plank, sandstone, sheet, stone, tiles, wall } from '../physical/kinds';
import type { PhysicalSample } from '../physical/surface';
import { CAREFUL_CAMERA, type CameraSettings } from '../camera/photograph';
import type { Things } from '../camera/scene';

/** A data sheet as a supplier gives it; what is not known is left out. */
export interface DataSheet {
  widthMm?: number;
  heightMm?: number;
  jointMm?: number;
  thicknessMm?: number;
  lrv?: number;
  lab?: [number, number, number];
  glossGu?: number;
  reliefMm?: number;
  permission?: string;
}

export interface Product {
  id: string;
  supplier: string;
  line: string;
  code: string;
  name: string;
  category: string;
  /** Size of one piece, and all the rest of the sheet. */
  sheet: DataSheet;
  sample: PhysicalSample;
  pxPerMm: number;
  /** How the swatch picture was taken: neatly cut, or as such pictures often are. */
  picture: 'cut' | 'oblique' | 'glare' | 'label' | 'hole' | 'not a picture' | 'cut short';
  /** Only the finish itself is in a neatly cut picture. */
  camera: Partial<CameraSettings>;
  things: Partial<Pick<Things, 'label' | 'hole'>>;
}

const LEAVE = 'For design work with this product, catalogue of autumn 2026';
type Row = [
  code: string,
  name: string,
  sample: PhysicalSample,
  sheet: DataSheet,
  more?: Partial<Pick<Product, 'picture' | 'camera' | 'things' | 'pxPerMm'>>,
];

const line = (
  supplier: string,
  lineName: string,
  category: string,
  pxPerMm: number,
  rows: Row[],
): Product[] =>
  rows.map(([code, name, sample, sheet, more]) => ({
    id: code.toLowerCase(),
    supplier,
    line: lineName,
    code,
    name,
    category,
    sheet,
    sample,
    pxPerMm,
    picture: 'cut',
    camera: {},
    things: {},
    ...more,
  }));

const OBLIQUE = {
  picture: 'oblique',
  camera: { tiltDeg: 17, panDeg: -12, rollDeg: 4, unevenness: 0.25 },
} as const;

/** Catalogues of seven suppliers, all made up. */
export const CATALOGUE: readonly Product[] = [
  ...line('Velthrask Timber', 'Longhouse', 'timber', 1.9, [
    [
      'VT-2145-NT',
      'Ash plank, natural',
      plank(201, [1180, 145], '#d6bd94', '#a9875c'),
      { widthMm: 1180, heightMm: 145, jointMm: 0, thicknessMm: 20, lrv: 44, glossGu: 9, permission: LEAVE },
      OBLIQUE,
    ],
    [
      'VT-2145-SM',
      'Ash plank, smoked',
      plank(202, [1180, 145], '#b39671', '#6b4f36'),
      {
        widthMm: 1180,
        heightMm: 145,
        thicknessMm: 20,
        lrv: 24,
        glossGu: 14,
        reliefMm: 0.3,
        permission: LEAVE,
      },
    ],
    [
      'VT-2145-WL',
      'Ash floor, white-lyed, laid',
      boards(203, [1200, 6 * 148], 145, '#e3d6bf', '#bfa883', { jointMm: 3 }),
      { widthMm: 1180, heightMm: 145, jointMm: 3, thicknessMm: 20, lrv: 58, permission: LEAVE },
    ],
    [
      'VT-0088-NB',
      'Beech strip, laid',
      boards(204, [900, 9 * 90], 88, '#d9b891', '#b98f66', { ringPorous: false }),
      { heightMm: 88, jointMm: 2, lrv: 43, glossGu: 18 },
      { picture: 'label', things: { label: { xMm: -420, yMm: 250, widthMm: 190, heightMm: 90 } } },
    ],
    [
      'VT-0110-LA',
      'Larch board, brushed',
      plank(205, [900, 110], '#c98f58', '#7e4b2b'),
      { widthMm: 900, heightMm: 110, reliefMm: 0.4, permission: LEAVE },
      { picture: 'hole', things: { hole: { xMm: -410, yMm: -35, radiusMm: 9 } } },
    ],
  ]),
  ...line('Quellimer Ceramics', 'Foreshore', 'ceramic', 2.6, [
    [
      'QC-20x10-LG',
      'Metro tile, lagoon',
      tiles(211, [3, 4], [205, 101], '#2f6b62', { shift: 0.5 }),
      { widthMm: 205, heightMm: 101, jointMm: 3, thicknessMm: 9, lrv: 13, glossGu: 86, permission: LEAVE },
    ],
    [
      'QC-20x10-CH',
      'Metro tile, chalk',
      tiles(212, [3, 4], [205, 101], '#e9e6dc', { shift: 0.5 }),
      { widthMm: 205, heightMm: 101, jointMm: 3, lrv: 74, glossGu: 84, permission: LEAVE },
      { picture: 'glare', camera: { glare: 0.9, tiltDeg: 24 } },
    ],
    [
      'QC-10x10-IN',
      'Square tile, ink',
      tiles(213, [6, 5], [98, 98], '#22344e'),
      {
        widthMm: 98,
        heightMm: 98,
        jointMm: 2,
        thicknessMm: 8,
        lab: [21, 0, -17],
        glossGu: 90,
        permission: LEAVE,
      },
      OBLIQUE,
    ],
    [
      'QC-10x10-RU',
      'Square tile, russet',
      tiles(214, [6, 5], [98, 98], '#8b4a2c'),
      { widthMm: 98, heightMm: 98, lrv: 11 },
    ],
    [
      'QC-06x24-SA',
      'Finger tile, sand',
      tiles(215, [3, 8], [240, 60], '#cdb48a', { shift: 0.33 }),
      { widthMm: 240, heightMm: 60, jointMm: 3, lrv: 46, permission: LEAVE },
    ],
  ]),
  ...line('Ruddelvane Brickworks', 'Kiln Row', 'brick', 1.2, [
    [
      'RB-215-OX',
      'Hand-struck brick, ox red',
      bricks(221, [4, 10], '#a4553a', '#5a3530', '#b9b1a2'),
      {
        widthMm: 215,
        heightMm: 65,
        jointMm: 10,
        thicknessMm: 102,
        lrv: 12,
        glossGu: 2,
        reliefMm: 5,
        permission: LEAVE,
      },
    ],
    [
      'RB-215-BU',
      'Hand-struck brick, buff',
      bricks(222, [4, 10], '#c3a274', '#8e6c4a', '#c9c3b6'),
      { widthMm: 215, heightMm: 65, jointMm: 10, lrv: 27, permission: LEAVE },
      OBLIQUE,
    ],
    [
      'RB-215-GR',
      'Hand-struck brick, grey',
      bricks(223, [4, 10], '#8b8782', '#55524f', '#a7a39b'),
      { widthMm: 215, heightMm: 65, lrv: 21 },
    ],
    [
      'RB-215-CL',
      'Hand-struck brick, clinker',
      bricks(224, [4, 10], '#5d3f3a', '#33282a', '#8d877c'),
      { widthMm: 215, heightMm: 65, jointMm: 10, lrv: 7, permission: LEAVE },
      { picture: 'cut short' },
    ],
  ]),
  ...line('Wextrel Weaving', 'Tideline', 'textile', 11, [
    [
      'WW-HB-HA',
      'Herringbone, harbour',
      cloth(231, [100, 76], 'herringbone', [10.4, 9.5], ['#b9b1a2', '#8f887b'], ['#3d4f63', '#7a8794']),
      { widthMm: 7.7, heightMm: 4.2, thicknessMm: 1.1, lrv: 19, permission: LEAVE },
    ],
    [
      'WW-PL-LI',
      'Plain linen, undyed',
      cloth(232, [90, 68], 'plain', [11, 10.5], ['#c9bda6', '#d8cdb8'], ['#bfb39b', '#cfc4ad']),
      { lrv: 47, permission: LEAVE },
    ],
    [
      'WW-HS-FO',
      'Hopsack, fox',
      cloth(233, [100, 76], 'hopsack', [9, 8.5], ['#a05a34', '#b87247'], ['#8b4a2a', '#c48a5f']),
      { lrv: 18, glossGu: 1, permission: LEAVE },
      OBLIQUE,
    ],
    [
      'WW-TW-SL',
      'Twill, slate',
      cloth(234, [100, 76], 'twill22', [10, 9.5], ['#5c646d', '#757d86'], ['#3b434c', '#505861']),
      { lrv: 11 },
      { picture: 'label', things: { label: { xMm: -46, yMm: 20, widthMm: 30, heightMm: 14 } } },
    ],
  ]),
  ...line('Sallimbry Plaster', 'Still', 'plaster', 1.3, [
    [
      'SP-ST-SH',
      'Trowelled plaster, shell',
      wall(241, [900, 680], '#d2c6b4'),
      { thicknessMm: 3, lrv: 57, glossGu: 3, reliefMm: 0.8, permission: LEAVE },
    ],
    [
      'SP-ST-SL',
      'Trowelled plaster, slate',
      wall(242, [900, 680], '#76797b'),
      { lrv: 19, permission: LEAVE },
      { picture: 'glare', camera: { glare: 0.5, unevenness: 0.45 } },
    ],
    ['SP-ST-OC', 'Trowelled plaster, ochre', wall(243, [900, 680], '#c79a5b'), { lrv: 37 }],
  ]),
  ...line('Tolverin Stoneworks', 'Quayside', 'stone', 1.8, [
    [
      'TS-LI-HO',
      'Shell limestone, honed',
      stone(251, [600, 450], '#d9cdb8', '#a8977c'),
      { widthMm: 600, heightMm: 450, thicknessMm: 20, lrv: 54, glossGu: 12, permission: LEAVE },
    ],
    [
      'TS-LI-GR',
      'Shell limestone, grey',
      stone(252, [600, 450], '#b9b8b2', '#878680'),
      { widthMm: 600, heightMm: 450, lrv: 41, permission: LEAVE },
      OBLIQUE,
    ],
    [
      'TS-SA-RO',
      'Sandstone, rose',
      sandstone(253, [600, 450], '#c9a08a', '#a1745f'),
      { widthMm: 600, heightMm: 400, lrv: 36, permission: LEAVE },
      { picture: 'not a picture' },
    ],
  ]),
  ...line('Zinnerolt Metals', 'Roofline', 'metal', 1.6, [
    [
      'ZM-ZN-GR',
      'Rolled zinc, grey',
      sheet(261, [600, 450], '#c3c6c7', '#7c848a'),
      { thicknessMm: 0.7, lrv: 31, glossGu: 60, permission: LEAVE },
    ],
    [
      'ZM-ZN-AN',
      'Rolled zinc, anthracite',
      sheet(262, [600, 450], '#6d7175', '#3e4348'),
      { thicknessMm: 0.7, lrv: 9 },
    ],
  ]),
];

export const productOf = (id: string): Product | undefined => CATALOGUE.find((p) => p.id === id);

/** The camera of a product's swatch; a neatly cut picture is one straight from above, filled by the finish. */
export const cameraOf = (product: Product, longSidePx: number): CameraSettings => {
  const { widthMm, heightMm } = product.sample;
  const ratio = product.picture === 'oblique' || product.picture === 'glare' ? 0.75 : heightMm / widthMm;
  return {
    ...CAREFUL_CAMERA,
    widthPx: ratio <= 1 ? longSidePx : Math.round(longSidePx / ratio),
    heightPx: ratio <= 1 ? Math.round(longSidePx * ratio) : longSidePx,
    seed: product.code.length * 31 + longSidePx,
    ...product.camera,
  };
};
