import type { MarkupHelp } from '../../api/client';

/** A command or an environment with all that is known of it. */
export interface Help {
  name: string;
  /** The arguments that follow the name, as in `[short]{title}`. */
  form: string;
  says: string;
  example: string;
  /** Packages any of which gives it; empty: it is always there. */
  packages: readonly string[];
  isEnvironment: boolean;
  /** What it prints, of a symbol. */
  sign?: string;
}

export type PackageHelp = MarkupHelp['packages'][number];

/** What there is to write with, looked up by name. */
export class Guide {
  readonly commands = new Map<string, Help>();
  readonly environments = new Map<string, Help>();
  readonly packages = new Map<string, PackageHelp>();
  readonly classes: MarkupHelp['classes'];
  /** Options with their values, by what takes them. */
  readonly options = new Map<string, MarkupHelp['options'][number]['options']>();

  constructor(help: MarkupHelp) {
    this.classes = help.classes;
    for (const { of, options } of help.options) for (const one of of) this.options.set(one, options);
    const ofCommands = new Map<string, string[]>();
    const ofEnvironments = new Map<string, string[]>();
    const give = (to: Map<string, string[]>, name: string, by: string) => to.set(name, [...(to.get(name) ?? []), by]);
    for (const p of help.packages) {
      this.packages.set(p.name, p);
      for (const name of p.commands) give(ofCommands, name, p.name);
      for (const name of p.environments) give(ofEnvironments, name, p.name);
    }
    for (const { name, sign } of help.symbols)
      this.commands.set(name, {
        name,
        form: '',
        says: 'A sign of formulas.',
        example: `$\\${name}$`,
        packages: [],
        isEnvironment: false,
        sign,
      });
    for (const { names, says, example } of help.lines)
      for (const { name, form, isEnvironment } of names) {
        const packages = (isEnvironment ? ofEnvironments : ofCommands).get(name) ?? [];
        (isEnvironment ? this.environments : this.commands).set(name, {
          name,
          form,
          says,
          example,
          packages,
          isEnvironment,
          sign: isEnvironment ? undefined : this.commands.get(name)?.sign,
        });
      }
  }

  /** All that is loaded when some packages are: those that they load along too. */
  loaded(packages: readonly string[]): ReadonlySet<string> {
    const found = new Set<string>();
    const take = (name: string) => {
      if (found.has(name)) return;
      found.add(name);
      this.packages.get(name)?.requires.forEach(take);
    };
    packages.forEach(take);
    return found;
  }

  /** A loaded package that defines the same as another one; null when that one may be loaded. */
  clash(name: string, loaded: ReadonlySet<string>): string | null {
    const own = this.packages.get(name)?.clashes.find((c) => loaded.has(c));
    return own ?? [...loaded].find((l) => this.packages.get(l)?.clashes.includes(name)) ?? null;
  }
}
