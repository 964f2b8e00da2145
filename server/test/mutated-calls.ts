import { seededRandom } from '@jossel/core/raster';

/** Calls of every route of the HTTP interface with bodies and addresses that are nearly right, or not at all. */

type Schema = Record<string, unknown>;
interface Operation {
  method: string;
  path: string;
  parameters: { name: string; in: string; schema: Schema }[];
  body: Schema | null;
}
export interface Call {
  method: string;
  path: string;
  headers: Record<string, string>;
  body: string | undefined;
}
export interface OpenApi {
  paths: Record<
    string,
    Record<
      string,
      {
        parameters?: { name: string; in: string; schema: Schema }[];
        requestBody?: { content: Record<string, { schema: Schema }> };
      }
    >
  >;
}

/** Every operation of a description. */
export const operationsOf = ({ paths }: OpenApi): Operation[] =>
  Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { parameters = [], requestBody }]) => ({
      method: method.toUpperCase(),
      path,
      parameters,
      body: requestBody?.content['application/json']?.schema ?? null,
    })),
  );

const HOSTILE: readonly unknown[] = [
  null,
  '',
  ' ',
  'NaN',
  '\0',
  'a\0b',
  '\ud800',
  '\u202egnitset',
  'x'.repeat(5000),
  "'; drop table finishes; --",
  '../../etc/passwd',
  '%00',
  -1,
  0,
  1e308,
  -1e308,
  2 ** 53,
  2147483648,
  0.1,
  true,
  [],
  {},
  [[[[[[]]]]]],
  { $ref: '#' },
];
/** What `If-Match` may say. */
const ETAGS = ['"1"', '"2147483648"', '"99999999999999999999"', 'W/"2"', '*', '""', 'no'];

/** Draws calls; the same seed draws the same ones. */
export class CallMutator {
  private readonly random;

  /** @param ids of things that are there */
  constructor(
    private readonly operations: readonly Operation[],
    private readonly ids: readonly string[],
    seed: number,
  ) {
    this.random = seededRandom(seed);
  }

  private pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.random.next() * from.length)]!;
  }
  private now(share: number): boolean {
    return this.random.next() < share;
  }

  next(): Call {
    const { method, path, parameters, body } = this.pick(this.operations);
    let where = path;
    const query = new URLSearchParams();
    for (const { name, in: place, schema } of parameters) {
      const value = this.atomText(schema);
      if (place === 'path') where = where.replace(`{${name}}`, encodeURIComponent(value.toWellFormed()));
      else if (place === 'query' && this.now(0.5)) query.set(name, value.toWellFormed());
    }
    const headers: Record<string, string> = this.now(0.4) ? { 'if-match': this.pick(ETAGS) } : {};
    return {
      method,
      path: `${where}${query.size > 0 ? `?${query}` : ''}`,
      headers,
      body: this.bodyText(body),
    };
  }

  private bodyText(schema: Schema | null): string | undefined {
    if (!schema) return undefined;
    const text = JSON.stringify(this.now(0.25) ? this.pick(HOSTILE) : this.mutated(this.valueOf(schema, 0)));
    // Sometimes it breaks off, or its bytes are not what they say.
    if (this.now(0.1)) return text.slice(0, Math.floor(text.length * this.random.next()));
    return text;
  }

  private atomText(schema: Schema): string {
    if (this.now(0.3)) {
      const hostile = this.pick(HOSTILE);
      return typeof hostile === 'string' ? hostile || '-' : JSON.stringify(hostile);
    }
    const value = this.valueOf(schema, 0);
    return typeof value === 'string' ? value || '-' : JSON.stringify(value ?? null);
  }

  /** A value that a schema asks for, more or less. */
  private valueOf(schema: Schema, depth: number): unknown {
    const choices = (schema['anyOf'] ?? schema['oneOf']) as Schema[] | undefined;
    if (choices) return this.valueOf(this.pick(choices), depth + 1);
    if (schema['const'] !== undefined) return schema['const'];
    if (Array.isArray(schema['enum'])) return this.pick(schema['enum'] as unknown[]);
    if (depth > 8) return null;
    switch (schema['type']) {
      case 'string':
        return schema['format'] === 'uuid' || 'pattern' in schema
          ? this.pick([...this.ids, '1b9d6bcd-bbfd-4b2d-9b5d-ab8dfbbd4bed', 'A'])
          : this.pick(['a', 'Moss tile', 'é', '中']);
      case 'integer':
      case 'number':
        return this.pick([16, 1, 0.5, 24, 100]);
      case 'boolean':
        return this.now(0.5);
      case 'array':
        return Array.from({ length: Math.floor(this.random.next() * 3) }, () =>
          this.valueOf((schema['items'] as Schema | undefined) ?? {}, depth + 1),
        );
      case 'object':
        return Object.fromEntries(
          Object.entries((schema['properties'] ?? {}) as Record<string, Schema>)
            .filter(([name]) => ((schema['required'] ?? []) as string[]).includes(name) || this.now(0.5))
            .map(([name, inner]) => [name, this.valueOf(inner, depth + 1)]),
        );
      default:
        return this.pick(HOSTILE);
    }
  }

  /** With one value in it replaced, or a member that nobody knows. */
  private mutated(value: unknown): unknown {
    if (Array.isArray(value) && value.length > 0 && this.now(0.8)) {
      const at = Math.floor(this.random.next() * value.length);
      return value.map((v: unknown, k) => (k === at ? this.mutated(v) : v));
    }
    if (typeof value === 'object' && value !== null && this.now(0.85)) {
      const names = Object.keys(value);
      const name = names.length > 0 ? this.pick(names) : 'unknown';
      return { ...value, [name]: this.mutated((value as Schema)[name]) };
    }
    return this.now(0.4) ? value : this.pick(HOSTILE);
  }
}
