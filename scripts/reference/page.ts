/** A table as Markdown has it. */
export function table(heads: readonly string[], rows: readonly (readonly string[])[]): string {
  const line = (cells: readonly string[]): string => `| ${cells.map((cell) => cell.replaceAll('|', '\\|').replaceAll('\n', ' ')).join(' | ')} |`;
  return [line(heads), line(heads.map(() => '---')), ...rows.map(line)].join('\n');
} // prettier-ignore
