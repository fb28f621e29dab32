import type { Command } from 'commander';
import { table } from './page.js';

const { commands } = (await import(
  new URL('../../dist/cli/program.js', import.meta.url).href
)) as typeof import('../../src/cli/program.js');

/** Each command: what it is for, what it takes, an example; as the program itself says it. */
export function commandsPage(): string {
  const program = commands();
  const parts = program.commands.flatMap((one) => [one, ...one.commands]).filter((one) => one.name() !== 'help' && one.description() !== '');
  return `# Commands

What \`apperin help COMMAND\` says, on one page. [An evening with them](../commands.md) has them in the order of the work. The status of a call is 0 when it is done, 1 when the answer is no (a check or a promise failed), 2 when the call or a file is wrong.

${parts.map(partOf).join('\n\n')}
`;
} // prettier-ignore

function partOf(command: Command): string {
  const words: string[] = [];
  for (let at: Command | null = command; at?.parent; at = at.parent) words.unshift(at.name());
  const help = command.createHelp();
  const options = help.visibleOptions(command).filter(({ long }) => long !== '--help');
  const taken = help.visibleArguments(command);
  return [
    `## apperin ${words.join(' ')}`,
    command.description(),
    taken.length > 0 ? table(['takes', 'which is'], taken.map((argument) => [`\`${argument.required ? '' : '['}${argument.name()}${argument.variadic ? '…' : ''}${argument.required ? '' : ']'}\``, argument.description])) : '',
    options.length > 0 ? table(['option', 'what it does'], options.map((option) => [`\`${option.flags}\``, help.optionDescription(option)])) : '',
    command.commands.length > 0 ? `Its own commands: ${command.commands.map((one) => `[${one.name()}](#apperin-${[...words, one.name()].join('-')})`).join(', ')}.` : '',
    example(command),
  ].filter((part) => part !== '').join('\n\n');
} // prettier-ignore

/** The example that the help of a command ends with. */
function example(command: Command): string {
  let said = '';
  const { writeOut } = command.configureOutput();
  command.configureOutput({ writeOut: (text) => void (said += text) });
  command.outputHelp();
  command.configureOutput({ writeOut: writeOut! });
  const found = /Example, on files that come with the package:\n {2}(.+)/.exec(said)?.[1];
  return found === undefined ? '' : `For example \`${found.trim()}\`.`;
}
