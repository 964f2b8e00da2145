import { z } from 'zod';
import type { Light } from '../photometric';
import { Refusal } from '../surface';

/** Lights of a light set, as a JSON or CSV list: which picture was taken under which light. */

const vector = z
  .tuple([z.number(), z.number(), z.number()])
  .describe('x to the right, y up, z to the camera, in the frame of the picture');
const entry = z
  .object({
    file: z.string().min(1).describe('Name of the picture’s file'),
    directionTo: vector.optional().describe('Direction to a far light; any length'),
    positionMm: vector
      .optional()
      .describe('Place of a near light, mm from the middle of the picture on the sample'),
    strength: z
      .number()
      .positive('A strength must be above 0.')
      .max(1000)
      .optional()
      .describe(
        'What a perfect white facing the light in the middle of the picture reads, linear 0–1; default: 1',
      ),
  })
  .refine(({ directionTo, positionMm }) => (directionTo === undefined) !== (positionMm === undefined), {
    message: 'Give either directionTo or positionMm.',
  });
export const lightListSchema = z
  .array(entry)
  .min(1, 'The list names no light.')
  .max(24, 'At most 24 lights.');

export interface NamedLight {
  file: string;
  light: Light;
}

/**
 * Reads a list of lights: JSON `[{file, directionTo|positionMm, strength?}]`, or CSV with a header line of
 * `file, x, y, z` and a column `kind` (direction or position, default: position) and `strength`, both optional.
 * @throws Refusal that says in which line what is wrong
 */
export function readLightList(text: string): NamedLight[] {
  const raw = text.trim().startsWith('[') ? parsed(text) : rowsOfCsv(text);
  const list = lightListSchema.safeParse(raw);
  if (!list.success) {
    const { path, message } = list.error.issues[0]!;
    const where =
      typeof path[0] === 'number' ? `Light ${path[0] + 1}${path[1] ? `, ${String(path[1])}` : ''}: ` : '';
    throw new Refusal(
      'light-list',
      `${where}${message} A light is {file, directionTo or positionMm: [x, y, z]}.`,
      'lights',
    );
  }
  return list.data.map(({ file, directionTo, positionMm, strength }) => ({
    file,
    light: {
      ...(directionTo ? { directionTo } : { positionMm: positionMm! }),
      ...(strength === undefined ? {} : { strength }),
    },
  }));
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new Refusal(
      'light-list',
      'The list of lights is neither JSON nor CSV. Send [{"file":"a.png","directionTo":[x,y,z]}, …] or lines of file,x,y,z.',
      'lights',
    );
  }
}

function rowsOfCsv(text: string): unknown {
  const lines = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line && !line.startsWith('#'));
  const split = (line: string) => line.split(/[,;\t]/).map((cell) => cell.trim());
  const head = split(lines[0] ?? '').map((cell) => cell.toLowerCase());
  const column = (name: string) => head.indexOf(name);
  for (const name of ['file', 'x', 'y', 'z'])
    if (column(name) < 0)
      throw new Refusal(
        'light-list',
        `The list of lights has no column "${name}". The first line must name the columns file, x, y, z.`,
        'lights',
      );
  return lines.slice(1).map((line) => {
    const cells = split(line);
    const place = ['x', 'y', 'z'].map((name) => Number(cells[column(name)]));
    const kind = column('kind') >= 0 ? cells[column('kind')] : 'position';
    const strength = column('strength') >= 0 ? Number(cells[column('strength')]) : undefined;
    return {
      file: cells[column('file')],
      ...(kind === 'direction' ? { directionTo: place } : { positionMm: place }),
      ...(strength ? { strength } : {}),
    };
  });
}
