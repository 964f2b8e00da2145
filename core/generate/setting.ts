import { z } from 'zod';
import { colourFigureSchema, type ColourFigure } from '../light/settings';
import { figure, figureSchema, printNumber, type Basis, type Figure, type FigureUnit } from '../units';

/**
 * What of a generated finish can be set. Each setting is described once: its name, unit, range and initial value. The schema of
 * the recipe, the fields of the interface and the types of the generators all follow from these descriptions.
 */

interface Described {
  label: string;
  about: string;
  /** It came after finishes were stored: those that lack it are as with its initial value, which therefore changes nothing. */
  later?: true;
}
export interface FigureSetting<U extends FigureUnit = FigureUnit> extends Described {
  kind: 'figure';
  unit: U;
  initial: number;
  least: number;
  most: number;
  /** Only whole numbers. */
  whole?: boolean;
}
export interface ChoiceSetting<V extends string = string> extends Described {
  kind: 'choice';
  options: readonly { value: V; name: string }[];
  initial: V;
}
export interface ColourSetting extends Described {
  kind: 'colour';
  initial: Lab;
}
export interface TextSetting extends Described {
  kind: 'text';
  initial: string;
  /** What is wrong with a text and what would be accepted; null: nothing. */
  fault: (text: string) => string | null;
}
/** Several of one kind, such as the stones of a terrazzo. */
export interface ListSetting<Of extends PlainSettings = PlainSettings> extends Described {
  kind: 'list';
  /** One of them, in a word. */
  one: string;
  /** They are named by letters, not by numbers. */
  lettered?: boolean;
  of: Of;
  least: number;
  most: number;
  initial: readonly { [K in keyof Of]?: Of[K] extends ColourSetting ? Lab : number | string }[];
}

export type PlainSetting = FigureSetting | ChoiceSetting | ColourSetting | TextSetting;
export type Setting = PlainSetting | ListSetting;
export type PlainSettings = Readonly<Record<string, PlainSetting>>;
export type SettingList = Readonly<Record<string, Setting>>;

export type Lab = readonly [number, number, number];
export type ValueOf<S> =
  S extends FigureSetting<infer U>
    ? Figure<U>
    : S extends ChoiceSetting<infer V>
      ? V
      : S extends ColourSetting
        ? ColourFigure
        : S extends ListSetting<infer Of>
          ? { [K in keyof Of]: ValueOf<Of[K]> }[]
          : string;
export type ValuesOf<D> = { -readonly [K in keyof D]: ValueOf<D[K]> };

/** A number with a unit. */
export const size = <U extends FigureUnit>(
  label: string,
  unit: U,
  [initial, least, most]: readonly [number, number, number],
  about: string,
  whole?: boolean,
): FigureSetting<U> => ({
  kind: 'figure',
  label,
  unit,
  initial,
  least,
  most,
  about,
  ...(whole ? { whole } : {}),
});

/** One of several kinds; the first is the initial one. */
export const choice = <V extends string>(
  label: string,
  options: Readonly<Record<V, string>>,
  about: string,
): ChoiceSetting<V> => {
  const list = (Object.entries(options) as [V, string][]).map(([value, name]) => ({ value, name }));
  return { kind: 'choice', label, about, options: list, initial: list[0]!.value };
};

/** A colour, CIELAB. */
export const colour = (label: string, initial: Lab, about: string): ColourSetting => ({
  kind: 'colour',
  label,
  about,
  initial,
});

export const text = (
  label: string,
  initial: string,
  about: string,
  fault: TextSetting['fault'],
): TextSetting => ({ kind: 'text', label, initial, about, fault });

export const list = <Of extends PlainSettings>(
  label: string,
  one: string,
  of: Of,
  [least, most]: readonly [number, number],
  initial: ListSetting<Of>['initial'],
  about: string,
): ListSetting<Of> => ({ kind: 'list', label, one, of, least, most, initial, about });

function schemaOfSetting(setting: Setting): z.ZodType {
  const { kind, label, about } = setting;
  switch (kind) {
    case 'figure': {
      const { unit, least, most, whole } = setting;
      const shown = unit === '1' ? '' : ` ${unit}`;
      const range = `${label}: between ${printNumber(least)} and ${printNumber(most)}${shown}${whole ? ', a whole number' : ''}.`;
      const bare = z
        .number(range)
        .refine((v) => v >= least && v <= most && (!whole || Number.isInteger(v)), range)
        .describe(`The number, in ${unit}`);
      return figureSchema(unit, label).extend({ value: bare }).describe(`${label}: ${about}`);
    }
    case 'choice':
      return z
        .enum(setting.options.map(({ value }) => value) as [string, ...string[]])
        .describe(`${label}: ${about}`);
    case 'colour':
      return colourFigureSchema.describe(`${label}: ${about}`);
    case 'text':
      return z
        .string()
        .max(4000)
        .superRefine((value, context) => {
          const message = setting.fault(value);
          if (message) context.addIssue({ code: 'custom', message });
        })
        .describe(`${label}: ${about}`);
    case 'list':
      return z
        .array(schemaOfSettings(setting.of))
        .min(setting.least, `${label}: at least ${setting.least}.`)
        .max(setting.most, `${label}: at most ${setting.most}.`)
        .describe(`${label}: ${about}`);
  }
}

/** The same list, its members named A, B … */
export const lettered = <Of extends PlainSettings>(of: ListSetting<Of>): ListSetting<Of> => ({
  ...of,
  lettered: true,
});

/** A setting that stored finishes may lack. */
export const later = <S extends Setting>(setting: S): S => ({ ...setting, later: true });

/** Zod schema of settings by their descriptions. */
export const schemaOfSettings = (settings: SettingList) =>
  z.object(
    Object.fromEntries(
      Object.entries(settings).map(([key, s]) => {
        const schema = schemaOfSetting(s);
        return [key, s.later ? schema.prefault(() => initialOf(s)) : schema];
      }),
    ),
  );

/** The value that a setting has at first. All figures are *assumed*. */
export function initialOf(setting: Setting): unknown {
  switch (setting.kind) {
    case 'figure':
      return figure(setting.initial, setting.unit, 'assumed');
    case 'colour':
      return { lab: [...setting.initial], basis: 'assumed' };
    case 'list':
      return setting.initial.map((item) => initialItem(setting, item));
    default:
      return setting.initial;
  }
}

/** One more of a list. @param item what of it differs from what its settings are at first */
export const initialItem = ({ of }: ListSetting, item: ListSetting['initial'][number] = {}) =>
  Object.fromEntries(
    Object.entries(of).map(([key, s]) => {
      const initial = (item as Record<string, unknown>)[key];
      return [key, initialOf(initial === undefined ? s : ({ ...s, initial } as Setting))];
    }),
  );

/** All settings as they are at first. */
export const initialSettings = <D extends SettingList>(settings: D): ValuesOf<D> =>
  Object.fromEntries(Object.entries(settings).map(([key, s]) => [key, initialOf(s)])) as ValuesOf<D>;

/** The basis of every colour and figure in settings, lists included. */
export function basesIn(settings: SettingList, values: Readonly<Record<string, unknown>>): Basis[] {
  return Object.entries(settings).flatMap(([key, setting]) => {
    const value = values[key];
    if (setting.kind === 'list')
      return (value as Record<string, unknown>[]).flatMap((item) => basesIn(setting.of, item));
    return setting.kind === 'figure' || setting.kind === 'colour' ? [(value as { basis: Basis }).basis] : [];
  });
}

/** Every figure in settings with its name; those of a list are numbered. */
export function figuresIn(
  settings: SettingList,
  values: Readonly<Record<string, unknown>>,
): { name: string; figure: Figure }[] {
  return Object.entries(settings).flatMap(([key, setting]) => {
    const value = values[key];
    if (setting.kind === 'figure') return [{ name: setting.label.toLowerCase(), figure: value as Figure }];
    if (setting.kind !== 'list') return [];
    return (value as Record<string, unknown>[]).flatMap((item, k) =>
      figuresIn(setting.of, item).map(({ name, figure: own }) => ({
        name: `${name} of ${setting.one} ${k + 1}`,
        figure: own,
      })),
    );
  });
}

/** Every colour in settings, CIELAB. */
export const coloursIn = (settings: SettingList, values: Readonly<Record<string, unknown>>): Lab[] =>
  Object.entries(settings).flatMap(([key, setting]) => {
    const value = values[key];
    if (setting.kind === 'colour') return [(value as ColourFigure).lab];
    return setting.kind === 'list'
      ? (value as Record<string, unknown>[]).flatMap((item) => coloursIn(setting.of, item))
      : [];
  });
