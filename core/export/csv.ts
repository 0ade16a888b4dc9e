/**
 * Comma-separated text that spreadsheets can open without being attacked through it: a cell that a spreadsheet could
 * take for a formula (it begins with = + - @, tab or carriage return, after any white space) gets an apostrophe in front.
 */
export function csvText(rows: readonly (readonly string[])[]): string {
  return '\uFEFF' + rows.map((r) => r.map(csvCell).join(',')).join('\r\n') + '\r\n';
}

export function csvCell(value: string): string {
  const plainNumber = /^-?\d+(\.\d+)?$/.test(value);
  const safe =
    !plainNumber && /^[\s\u0000-\u001f]*[=+\-@\uff1d\uff0b\uff0d\uff20\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n;\t']/.test(safe) || safe !== safe.trim() ? `"${safe.replaceAll('"', '""')}"` : safe;
}
