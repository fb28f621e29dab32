import type { Command, Option } from 'commander';
import { call } from './call.js';
import { CallError } from './exit.js';
import { SUFFIXES } from './kinds.js';
import { quoted } from './print.js';

/** The shells for which a completion is made. */
export const SHELLS = ['bash', 'zsh', 'fish'] as const;

/** A command as a completion needs it: its words (`draw arcs`), what it is for, its options. */
interface Known {
  words: string;
  about: string;
  options: readonly Option[];
  /** What may follow: the names of further commands. */
  next: readonly Command[];
}

/** Values of options that are one of a few words. */
const WORDS: Readonly<Record<string, readonly string[]>> = {
  '--format': ['svg', 'png'],
  '--order': ['velocity-first', 'position-first'],
  '--to': ['rows', 'drawing', 'edges'],
};

/** `apperin completion`: what a shell needs to complete commands, options and names of files; made from the commands themselves. */
export function completion(program: Command, shell: string): void {
  if (!(SHELLS as readonly string[]).includes(shell))
    throw new CallError(`${shell}: there is no completion for it; there are ${SHELLS.join(', ')}`);
  const all = [program, ...program.commands, ...program.commands.flatMap(({ commands }) => commands)].map(known);
  call().out(shell === 'bash' ? bash(all) : shell === 'zsh' ? zsh(all) : fish(all));
}

function known(command: Command): Known {
  const words = [];
  for (let at: Command | null = command; at?.parent; at = at.parent) words.unshift(at.name());
  const help = command.createHelp();
  return {
    words: words.join(' '),
    about: command.description(),
    options: help.visibleOptions(command),
    next: command.name() === 'help' ? (command.parent?.commands ?? []) : command.commands,
  };
}

const flagsOf = ({ options }: Known): string[] => options.flatMap(({ short, long }) => [short, long]).filter((flag) => flag !== undefined && flag !== null) as string[]; // prettier-ignore
const names = ({ words, next }: Known): string =>
  words === 'completion' ? SHELLS.join(' ') : next.map((command) => command.name()).join(' ');
const suffixes = SUFFIXES.map(([suffix]) => suffix.slice(1));
/** Options that want a value. */
const valued = (all: readonly Known[]): string[] => [...new Set(all.flatMap(({ options }) => options.filter((one) => one.required).map(({ long }) => long!)))]; // prettier-ignore

function bash(all: readonly Known[]): string {
  const cases = (of: (one: Known) => string): string =>
    all.map((one) => `    ${quoted(one.words)}) words=${quoted(of(one))} ;;`).join('\n');
  return `# Completion for bash:  source <(apperin completion bash)
_apperin() {
  local current=\${COMP_WORDS[COMP_CWORD]} before=\${COMP_WORDS[COMP_CWORD - 1]} command='' words='' i
  # The command is the first word, or the first two where the first one has further commands.
  for ((i = 1; i < COMP_CWORD; i++)); do
    case "$command \${COMP_WORDS[i]}" in
${all.filter(({ words }) => words !== '').map(({ words }) => `      ${quoted(words.includes(' ') ? words : ` ${words}`)}) command=${quoted(words)} ;;`).join('\n')}
    esac
  done
  COMPREPLY=()
  case "$before" in
${Object.entries(WORDS).map(([flag, words]) => `    ${flag}) COMPREPLY=($(compgen -W ${quoted(words.join(' '))} -- "$current")); return ;;`).join('\n')}
  esac
  if [[ $current == -* ]]; then
    case "$command" in
${cases((one) => flagsOf(one).join(' '))}
    esac
    COMPREPLY=($(compgen -W "$words" -- "$current"))
    return
  fi
  case "$command" in
${cases(names)}
  esac
  if [[ -n $words ]]; then
    COMPREPLY=($(compgen -W "$words" -- "$current"))
    return
  fi
  local file
  while IFS= read -r file; do
    if [[ -d $file || $file =~ \\.(${suffixes.map((suffix) => suffix.replaceAll('.', '\\.')).join('|')})$ || $before =~ ^(${valued(all).join('|')})$ ]]; then COMPREPLY+=("$file"); fi
  done < <(compgen -f -- "$current")
  compopt -o filenames 2>/dev/null
}
complete -F _apperin apperin
`; // prettier-ignore
}

function zsh(all: readonly Known[]): string {
  const described = (text: string): string => text.replaceAll(/[[\]:]/g, '\\$&');
  const spec = ({ long, description, required }: Option): string => {
    const value = required ? `:value:${WORDS[long!] ? `(${WORDS[long!]!.join(' ')})` : '_files'}` : '';
    return quoted(`*${long!}[${described(description)}]${value}`);
  };
  const list = (one: Known): string =>
    one.words === 'completion'
      ? SHELLS.map((shell) => quoted(shell)).join(' ')
      : one.next.map((command) => quoted(`${command.name()}:${command.description()}`)).join(' ');
  return `#compdef apperin
# Completion for zsh:  apperin completion zsh > "\${fpath[1]}/_apperin"
_apperin() {
  local command='' word
  local -a next
  for word in \${words[2,CURRENT-1]}; do
    case "$command $word" in
${all.filter(({ words }) => words !== '').map(({ words }) => `      ${quoted(words.includes(' ') ? words : ` ${words}`)}) command=${quoted(words)} ;;`).join('\n')}
    esac
  done
  next=()
  case "$command" in
${all.filter((one) => names(one) !== '').map((one) => `    ${quoted(one.words)}) next=(${list(one)}) ;;`).join('\n')}
  esac
  if (( \${#next} )) && [[ \${words[CURRENT]} != -* ]]; then
    _describe 'command' next
    return
  fi
  case "$command" in
${all.map((one) => `    ${quoted(one.words)}) _arguments -S ${one.options.filter(({ long }) => long).map(spec).join(' ')} '*:file:_files -g "*.(${suffixes.join('|')})(-.)"' ;;`).join('\n')}
  esac
}
if [[ \${funcstack[1]} == _apperin ]]; then _apperin "$@"; elif (( $+functions[compdef] )); then compdef _apperin apperin; fi
`; // prettier-ignore
}

function fish(all: readonly Known[]): string {
  const lines = all.flatMap((one) => {
    const [first, second] = one.words.split(' ');
    const others = one.next.map((command) => command.name()).join(' ');
    const within =
      one.words === ''
        ? '__fish_use_subcommand'
        : second === undefined
          ? `__fish_seen_subcommand_from ${first!}`
          : `__fish_seen_subcommand_from ${first!}; and __fish_seen_subcommand_from ${second}`;
    const next =
      one.words === 'completion'
        ? SHELLS.map(
            (shell) =>
              `complete -c apperin -n '${within}; and not __fish_seen_subcommand_from ${SHELLS.join(' ')}' -f -a ${shell}`,
          )
        : one.next.map(
            (command) =>
              `complete -c apperin -n ${quoted(one.words === '' ? within : `${within}; and not __fish_seen_subcommand_from ${others}`)} -f -a ${command.name()} -d ${quoted(command.description())}`,
          );
    const options = one.options.map(({ short, long, description, required }) => {
      const words = long && WORDS[long] ? ` -f -a ${quoted(WORDS[long].join(' '))}` : '';
      return `complete -c apperin -n ${quoted(within)}${short ? ` -s ${short.slice(1)}` : ''}${long ? ` -l ${long.slice(2)}` : ''}${required ? ' -r' : ''}${words} -d ${quoted(description)}`;
    });
    return [...next, ...options];
  });
  return `# Completion for fish:  apperin completion fish > ~/.config/fish/completions/apperin.fish
${lines.join('\n')}
`; // prettier-ignore
}
