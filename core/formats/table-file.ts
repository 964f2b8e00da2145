/** Tables of readings: CGATS.17 text (keywords, BEGIN_DATA_FORMAT, BEGIN_DATA), or lines with a heading. */

/** A number with point or comma as decimal sign. */
export function numberOf(text: string | undefined): number {
  const plain = (text ?? '').trim().replace(/−/g, '-').replace(',', '.');
  return /^[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?$/.test(plain) ? Number(plain) : NaN;
}

/** A table as it stands in a file: its columns, and the cells of every row with the line it ends on. */
export interface Table {
  title: string;
  columns: string[];
  rows: { cells: string[]; line: number }[];
}

const fieldsOf = (line: string) => (line.match(/"[^"]*"|\S+/g) ?? []).map((f) => f.replace(/^"|"$/g, ''));

function tableOfCgats(text: string): Table {
  const lines = text.split(/\r\n|\r|\n/);
  const columns: string[] = [];
  const rows: Table['rows'] = [];
  let mode: 'head' | 'format' | 'data' = 'head';
  let title = '';
  let pending: string[] = [];
  lines.forEach((raw, n) => {
    const line = raw.replace(/#.*$/, '').trim();
    if (!line) return;
    if (/^BEGIN_DATA_FORMAT\b/.test(line)) mode = 'format';
    else if (/^END_DATA_FORMAT\b/.test(line)) mode = 'head';
    else if (/^BEGIN_DATA\b/.test(line)) mode = 'data';
    else if (/^END_DATA\b/.test(line)) mode = 'head';
    else if (mode === 'format') columns.push(...fieldsOf(line));
    else if (mode === 'data') {
      // A row may run over several lines.
      pending.push(...fieldsOf(line));
      if (pending.length >= columns.length) {
        if (pending.length > columns.length)
          throw new RangeError(
            `Line ${n + 1} has ${pending.length} values, but the format names ${columns.length} columns.`,
          );
        rows.push({ cells: pending, line: n + 1 });
        pending = [];
      }
    } else {
      const [key, value] = fieldsOf(line);
      if (key === 'DESCRIPTOR' && value) title = value;
    }
  });
  if (pending.length > 0)
    throw new RangeError(
      `The last row has ${pending.length} values, but the format names ${columns.length} columns.`,
    );
  if (columns.length === 0) throw new RangeError('BEGIN_DATA_FORMAT names no columns.');
  if (rows.length === 0) throw new RangeError('There is no data between BEGIN_DATA and END_DATA.');
  return { title, columns, rows };
}

function tableOfCsv(text: string): Table {
  const lines = text.split(/\r\n|\r|\n/).map((line, n) => ({ line, n: n + 1 }));
  const first = lines.find(({ line }) => line.trim() !== '');
  if (!first) throw new RangeError('The file is empty.');
  // The sign that parts the heading parts the rows; a comma may then be a decimal sign.
  const part = first.line.includes('\t') ? '\t' : first.line.includes(';') ? ';' : ',';
  const cellsOf = (line: string) => line.split(part).map((c) => c.trim().replace(/^"|"$/g, ''));
  const columns = cellsOf(first.line);
  if (columns.length < 4)
    throw new RangeError(
      `The first line must name the columns, for instance “Name, L, a, b”; it reads “${first.line.slice(0, 60)}”.`,
    );
  const rows = lines
    .filter(({ line, n }) => n > first.n && line.trim() !== '')
    .map(({ line, n }) => ({ cells: cellsOf(line), line: n }));
  const wrong = rows.find((r) => r.cells.length !== columns.length);
  if (wrong)
    throw new RangeError(
      `Line ${wrong.line} has ${wrong.cells.length} values, but the heading names ${columns.length} columns.`,
    );
  return { title: '', columns, rows };
}

/**
 * Reads a table: CGATS.17 text, or lines with a heading whose columns are parted by comma, semicolon or tab.
 * @throws RangeError with a sentence that says what is missing and where
 */
export function readTable(text: string): Table {
  const clean = text.replace(/^\uFEFF/, '');
  return /BEGIN_DATA_FORMAT/.test(clean) ? tableOfCgats(clean) : tableOfCsv(clean);
}
