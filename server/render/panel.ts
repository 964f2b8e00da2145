import type { EncodedMap, MapName, Recipe, RenderReport } from '@jossel/core/finish';
import { writePanelGlb } from '@jossel/core/formats';
import { physicalOf } from '@jossel/core/response';
import { writePng } from './png';

/** Channels of the texture that glTF packs, red first. */
const PACKED = ['occlusion', 'roughness', 'metalness'] as const satisfies readonly MapName[];
/** The base colour of what has openings. */
const OPEN = ['colour', 'opacity'] as const satisfies readonly MapName[];

/** What a panel is named, and what its file says besides. */
export interface PanelOrder {
  name: string;
  extras: Record<string, unknown>;
}

/**
 * A glTF panel of the repeat. Its own textures are compressed as soon as the maps that they are packed from are there, while others
 * are still computed.
 */
export class Panel {
  private readonly maps = new Map<MapName, EncodedMap>();
  private packedPng: Promise<Uint8Array> | null = null;
  private openPng: Promise<Uint8Array> | null = null;
  private readonly wanted: readonly MapName[];

  constructor(private readonly response: Recipe['response']) {
    this.wanted = [...PACKED, ...(response.openness ? OPEN : [])];
  }

  /** Takes in a map; what the panel does not pack is left to the map's own file. */
  take(map: EncodedMap): void {
    if (!this.wanted.includes(map.name)) return;
    this.maps.set(map.name, map);
    this.packedPng ??= this.whenThere(PACKED, (maps) => packed(maps));
    if (this.response.openness)
      this.openPng ??= this.whenThere(OPEN, ([colour, opacity]) => withOpacity(colour!, opacity!));
  }

  private whenThere(
    names: readonly MapName[],
    write: (maps: EncodedMap[]) => Promise<Uint8Array>,
  ): Promise<Uint8Array> | null {
    const maps = names.flatMap((name) => this.maps.get(name) ?? []);
    if (maps.length < names.length) return null;
    const written = write(maps);
    // Whoever asks for the panel is told of a fault; it must not end the thread before.
    written.catch(() => undefined);
    for (const name of names) this.maps.delete(name);
    return written;
  }

  /**
   * @param colourPng file of the colour, for what has no openings
   * @param normalPng of normals that hold the whole relief: the panel is flat
   */
  async glb(
    { name, extras }: PanelOrder,
    report: RenderReport,
    colourPng: Uint8Array,
    normalPng: Uint8Array,
  ): Promise<Uint8Array> {
    return writePanelGlb({
      name,
      repeatMm: report.repeatMm,
      physical: physicalOf(this.response, report),
      colourPng: (await this.openPng) ?? colourPng,
      normalPng,
      packedPng: (await this.packedPng)!,
      extras,
    });
  }
}

/** Three maps of one channel as the channels of one picture. */
function packed(maps: readonly EncodedMap[]): Promise<Uint8Array> {
  const { widthPx, heightPx } = maps[0]!;
  const data = new Uint8Array(3 * widthPx * heightPx);
  for (const [k, { data: from }] of maps.entries())
    for (let i = 0; i < from.length; i++) data[3 * i + k] = from[i]!;
  return writePng({
    name: 'occlusion',
    widthPx,
    heightPx,
    channels: 3,
    bitDepth: 8,
    colourSpace: 'data',
    data,
  });
}

/** Colour with the opacity as its fourth channel. */
function withOpacity(colour: EncodedMap, opacity: EncodedMap): Promise<Uint8Array> {
  const data = new Uint8Array(4 * opacity.data.length);
  for (let i = 0; i < opacity.data.length; i++) {
    for (let c = 0; c < 3; c++) data[4 * i + c] = colour.data[3 * i + c]!;
    data[4 * i + 3] = opacity.data[i]!;
  }
  return writePng({ ...colour, channels: 4, data });
}
