import type { Help } from './guide';

const element = (className: string, text: string) => {
  const made = document.createElement('p');
  made.className = className;
  made.textContent = text;
  return made;
};

/** What a command or an environment does, how it is written, and what gives it. */
export function helpPanel(help: Help, by: { needs?: string; clash?: string } = {}): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'cm-help';
  const form = help.isEnvironment ? `\\begin{${help.name}}${help.form}` : `\\${help.name}${help.form}`;
  dom.append(element('cm-help-form', help.sign ? `${form}   ${help.sign}` : form), element('cm-help-says', help.says));
  if (help.example !== form) dom.append(element('cm-help-example', help.example));
  const source = sourceOf(help, by);
  if (source) dom.append(element(by.clash ? 'cm-reference-lacks' : 'cm-reference-note', source));
  return dom;
}

function sourceOf(help: Help, { needs, clash }: { needs?: string; clash?: string }): string {
  if (clash) return `${needs} gives it, and clashes with ${clash}, which is loaded: load only one of them.`;
  if (needs) return `The package ${needs} gives it; it is loaded with it.`;
  return help.packages.length > 0 ? `From the package ${help.packages.join(' or ')}.` : '';
}

/** A picture, small. */
export function picturePanel(address: string): HTMLElement {
  const dom = document.createElement('div');
  dom.className = 'cm-help';
  const picture = dom.appendChild(document.createElement('img'));
  picture.src = address;
  picture.alt = '';
  return dom;
}
