using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for notes: at the end, in the margin, to do.</summary>
internal static class NotePackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("endnotes", "Notes gathered at the end.")
        {
            Commands = ["endnote", "endnotemark", "endnotetext", "theendnotes", "notesname", "enotesize", "enoteheading", "enoteformat", "theendnote"],
            Load = static load => Endnotes(load.Builder),
        },
        new("todonotes", "Notes on what is to be done, in the margin or in the text.")
        {
            Commands = ["todo", "listoftodos", "missingfigure", "todototoc", "setuptodonotes"],
            Options = ["disable", "obeyDraft", "obeyFinal", "colorinlistoftodos", "textsize", "textwidth", "prependcaption", "linecolor", "backgroundcolor", "bordercolor", "color", "figwidth", "loadshadowlibrary", "shadow", "dvistyle", "tickmarkheight", "danish", "english", "french", "german", "ngerman"],
            Load = static load => Todos(load),
        },
        new("footmisc", "Kinds of footnotes.")
        {
            Commands = ["setfnsymbol", "footref"],
            Options = ["perpage", "side", "symbol", "symbol*", "para", "bottom", "marginal", "flushmargin", "hang", "ragged", "norule", "splitrule", "stable", "multiple", "abspage", "robust"],
            Definitions = "\\def\\footref#1{\\textsuperscript{\\ref{#1}}}\\def\\setfnsymbol#1{}\\newdimen\\footnotemargin\\footnotemargin=1.8em"
                + "\\long\\def\\@makefntext#1{\\parindent1em\\noindent\\ifdim\\footnotemargin>0pt\\hbox to\\footnotemargin{\\hss\\@makefnmark}\\else"
                + "\\ifdim\\footnotemargin=0pt\\@makefnmark\\else\\llap{\\hbox to-\\footnotemargin{\\@makefnmark\\hss}}\\fi\\fi#1}",
            Load = static load =>
            {
                if (load.Has("symbol") || load.Has("symbol*"))
                {
                    load.Machine.Definitions.DefineMacro("thefootnote", "\\fnsymbol{footnote}");
                }

                // Its documentation: in the margin's line, in the margin, or with all lines as far from the left as the first.
                foreach ((string option, string effect) in (ReadOnlySpan<(string, string)>)[
                    ("flushmargin", "\\footnotemargin=0pt"),
                    ("marginal", "\\footnotemargin=-0.8em"),
                    ("hang", "\\long\\def\\@makefntext#1{\\hangindent\\footnotemargin\\noindent\\ifdim\\footnotemargin>0pt\\hbox to\\footnotemargin{\\@makefnmark\\hss}\\else\\@makefnmark\\fi#1}"),
                    ("ragged", "\\let\\note@layout\\@makefntext\\long\\def\\@makefntext#1{\\raggedright\\note@layout{#1}}")])
                {
                    if (load.Has(option))
                    {
                        load.Machine.Definitions.Load(effect);
                    }
                }
            },
        },
        new("footnote", "Footnotes from boxes.")
        {
            Environments = ["savenotes"],
            Commands = ["makesavenoteenv"],
            Load = static load =>
            {
                load.Builder.Environments.DefineEnvironment("savenotes", static _ => { });
                load.Machine.Definitions.Load("\\newcommand{\\makesavenoteenv}[2][]{}");
            },
        },
        new("marginnote", "Notes in the margin, also where a float can't be.")
        {
            Commands = ["marginnote"],
            Load = static load => load.Machine.Define("marginnote", (m, t) =>
            {
                m.ReadOptional(t);
                List<Token> text = m.ReadArgument(t);
                m.ReadOptional(t);
                load.Builder.Notes.AddMarginNote(load.Builder.Notes.BuildMarginNote(text));
            }),
        },
        new("changebar", "Bars beside changes; they are left out.") { Environments = ["changebar"], Commands = ["cbstart", "cbend", "cbdelete"], Definitions = "\\def\\cbstart{}\\def\\cbend{}\\newcommand{\\cbdelete}[1][]{}", Load = static load => load.Builder.Environments.DefineEnvironment("changebar", static _ => { }) },
    ];

    private static void Endnotes(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        var notes = new List<(List<Token> Mark, List<Token> Text, int Position)>();
        machine.Counters.Add("endnote");
        machine.Definitions.Load("\\def\\notesname{Notes}\\def\\enotesize{\\footnotesize}\\def\\enoteheading{\\section*{\\notesname}}\\def\\enoteformat{}\\def\\makeenmark{\\textsuperscript{\\theenmark}}\\def\\theenmark{\\theendnote}");
        List<Token> Number(Machine m, Token t, List<Token>? given)
        {
            if (given is not null)
            {
                return given;
            }

            m.Counters.Step("endnote", t);
            return [.. m.Expander.ExpandFully([builder.HeadingCommands.TheOf("endnote", t.Position)])];
        }

        machine.Define("endnote", (m, t) =>
        {
            List<Token> mark = Number(m, t, m.ReadOptional(t));
            List<Token> text = m.ReadArgument(t);
            notes.Add((mark, text, t.Position));
            builder.Execute([Token.Command(m.Symbol("textsuperscript"), t.Position), .. TokenLists.Braced(mark, t.Position)]);
        });
        machine.Define("endnotemark", (m, t) =>
            m.Push([Token.Command(m.Symbol("textsuperscript"), t.Position), .. TokenLists.Braced(Number(m, t, m.ReadOptional(t)), t.Position)]));
        machine.Define("endnotetext", (m, t) =>
        {
            List<Token> mark = m.ReadOptional(t) ?? [.. m.Expander.ExpandFully([builder.HeadingCommands.TheOf("endnote", t.Position)])];
            notes.Add((mark, m.ReadArgument(t), t.Position));
        });
        machine.Define("theendnotes", (m, t) =>
        {
            var tokens = new List<Token> { Token.Command(m.Symbol("enoteheading"), t.Position), Token.Character('{', Category.BeginGroup, t.Position), Token.Command(m.Symbol("enotesize"), t.Position) };
            foreach ((List<Token> mark, List<Token> text, _) in notes)
            {
                tokens.AddRange([Token.Command(m.Par, t.Position), Token.Command(m.Symbol("noindent"), t.Position), Token.Command(m.Symbol("textsuperscript"), t.Position),
                    .. TokenLists.Braced(mark, t.Position), Token.Command(m.Symbol(","), t.Position), .. text]);
            }

            tokens.AddRange([Token.Command(m.Par, t.Position), Token.Character('}', Category.EndGroup, t.Position)]);
            notes.Clear();
            m.Push(tokens);
        });
    }

    private static void Todos(PackageLoad load)
    {
        DocumentBuilder builder = load.Builder;
        bool off = load.Has("disable") || (load.Has("obeyFinal") && !builder.Pages.IsDraft);
        load.Machine.Definitions.Load("\\def\\todototoc{}\\def\\setuptodonotes#1{}\\def\\todoname{Todo list}");
        load.Machine.Define("todo", (m, t) =>
        {
            List<ListedOption> options = ListedOption.Of(m, m.ReadOptional(t));
            List<Token> text = m.ReadArgument(t);
            if (off || options.Exists(o => o.Key == "disable"))
            {
                return;
            }

            string anchor = builder.HeadingCommands.NewAnchor("todo");
            builder.References.AddInlineAnchor(anchor);
            builder.BackMatter.AddListLine("tdo", null, builder.BuildInlines(text), anchor, t.Position);
            int ground = options.Find(o => o.Key is "color" or "backgroundcolor") is { } colour ? ColourNames.Find(builder, colour.Text(m)) ?? 0xFBE3B8 : 0xFBE3B8;
            if (options.Exists(o => o.Key == "inline" && o.IsOn(m)))
            {
                double width = builder.Boxes.LineWidth - 8;
                builder.EndParagraph();
                builder.AddInline(new BlockBoxInline(builder.Boxes.BuildColumn(text, width), width) { FramePadding = 4, Ground = ground, Position = 't' });
                builder.EndParagraph();
                return;
            }

            List<Block> note = builder.Notes.BuildMarginNote(text);
            double margin = builder.PackageServices.MarginWidth - 6;
            builder.Notes.AddMarginNote([new ParagraphBlock([new BlockBoxInline(note, margin) { FramePadding = 3, Ground = ground, Position = 't' }], builder.PackageServices.PlainParagraph())]);
        });
        load.Machine.Define("missingfigure", (m, t) =>
        {
            m.ReadOptional(t);
            List<Token> text = m.ReadArgument(t);
            if (!off)
            {
                double width = builder.Boxes.LineWidth - 8;
                builder.AddInline(new BlockBoxInline(builder.Boxes.BuildColumn([.. m.Tokenize("\\centering ", t.Position), .. text], width), width) { FramePadding = 4, Height = 90, InnerPosition = 'c' });
            }
        });
        load.Machine.Define("listoftodos", (m, t) =>
        {
            List<Token> title = m.ReadOptional(t) ?? [Token.Command(m.Symbol("todoname"), t.Position)];
            if (!off)
            {
                m.Push([Token.Command(m.Symbol(builder.Class.HasChapters ? "chapter" : "section"), t.Position), Token.Character('*', Category.Other, t.Position),
                    .. TokenLists.Braced(title, t.Position), .. builder.HeadingCommands.InternalTokens("\\@starttoc{tdo}").Select(u => u.At(t.Position))]);
            }
        });
    }
}
