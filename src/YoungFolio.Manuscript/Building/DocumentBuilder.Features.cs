namespace YoungFolio.Manuscript.Building;

// The features that documents are read with: each has its own commands and its own state.
public sealed partial class DocumentBuilder
{
    /// <summary>From the main file's first sign to its last.</summary>
    internal DocumentReader Reader { get; }
    /// <summary>The main loop: carries out what comes from the machine, in a paragraph, between paragraphs and in formulas.</summary>
    internal TokenDispatcher Dispatcher { get; }
    /// <summary>Names that nothing defines: which package gives them, which name may have been meant.</summary>
    internal UnknownNames UnknownNames { get; }
    /// <summary>Letters (Lamport, section 5.1): each begins on a page of its own, numbered from 1.</summary>
    internal LetterCommands Letters { get; }
    /// <summary>Boxes scaled and turned (the package graphicx and its kin).</summary>
    internal TransformCommands Transforms { get; }
    /// <summary>Heads and feet in three fields (the package fancyhdr), and margins changed for a stretch of text.</summary>
    internal PageFieldCommands PageFields { get; }
    /// <summary>Figures and tables in parts, (a) and (b), each with a caption (the packages subcaption and subfig), and figures beside text.</summary>
    internal SubFigureCommands SubFigures { get; }
    /// <summary>The look of captions, and captions outside floats.</summary>
    internal CaptionSetup CaptionSetup { get; }
    /// <summary>Data files as rows for csvsimple and datatool.</summary>
    internal DataTables DataTables { get; }
    /// <summary>Programs and other text as typed, with languages, numbers, captions and frames; the packages listings and fancyvrb set it up.</summary>
    internal TypedTextCommands TypedText { get; }
    /// <summary>Contents and lists of floats.</summary>
    internal ContentsCommands ContentsLists { get; }
    /// <summary>The preamble's wishes for the placing of floats: counters, shares and distances by their usual names.</summary>
    internal FloatPlacementRules FloatPlacement { get; }
    /// <summary>Layouts and usual places of kinds of floats (the package float).</summary>
    internal FloatStyles FloatStyles { get; }
    /// <summary>Families of type: which ones the preamble chooses, and the commands that choose others within the text.</summary>
    internal TypefaceCommands TypefaceCommands { get; }
    /// <summary>Addresses on the web, and links to them.</summary>
    internal AddressCommands Addresses { get; }
    /// <summary>Footnotes and notes in the margin.</summary>
    internal NoteCommands Notes { get; }
    /// <summary>The title, its page, and the abstract.</summary>
    internal TitleCommands Titles { get; }
    /// <summary>What a preamble may set of how paragraphs are broken into lines.</summary>
    internal LineBreakingParameters LineBreaking { get; }
    /// <summary>Theorems: numbered statements (Lamport, section C.8.3), with the styles and the proof of the package amsthm.</summary>
    internal TheoremCommands Theorems { get; }
    /// <summary>Hooks: what preambles, classes and packages ask to be done later.</summary>
    internal HookCommands Hooks { get; }
    /// <summary>Lists that are made when all has been read: of symbols, terms and listings, the index, and what the contents list besides headings.</summary>
    internal BackMatterCommands BackMatter { get; }
    /// <summary>Commands of text that stand inside a formula.</summary>
    internal TextInFormulas TextInFormulas { get; }
    /// <summary>A dollar sign that lacks its partner turns text into formulas and formulas into text to the paragraph's end. Where a paragraph has an odd number of them, the lone one is found by which pairing leaves formulas that look like formulas.</summary>
    internal DollarRepair DollarRepair { get; }
    /// <summary>Citations and lists of sources, those of .bib files and those written by hand.</summary>
    internal BibliographyCommands Bibliography { get; }
    /// <summary>Text printed as it is typed.</summary>
    internal VerbatimCommands Verbatim { get; }
    /// <summary>Boxes: text kept together, paragraphs of a width, frames, and registers that keep them (The TeXbook, ch. 11 and 12; Lamport, C.13).</summary>
    internal BoxCommands Boxes { get; }
    /// <summary>Displayed formulas: their environments, numbers and tags.</summary>
    internal DisplayCommands Displays { get; }
    /// <summary>Environments: \begin{name} carries out \name in a group, \end{name} carries out \endname and ends the group.</summary>
    internal EnvironmentCommands Environments { get; }
    /// <summary>Pictures, figures and captions.</summary>
    internal FigureCommands Figures { get; }
    /// <summary>Manuscripts of many files.</summary>
    internal FileCommands Files { get; }
    /// <summary>How formulas are read: a list of nodes at a time, to the sign that ends it.</summary>
    internal FormulaReader Formulas { get; }
    /// <summary>Headings: numbers, running heads, lines for the contents.</summary>
    internal HeadingCommands HeadingCommands { get; }
    /// <summary>Lists, quotations, and text that is centred or flush at one side. Measures are the registers of Lamport's list environment (section C.6.3); their values for the six depths are from memory of his classes at 10 pt.</summary>
    internal ListCommands Lists { get; }
    /// <summary>Tables that go on over pages (the package longtable and its kin).</summary>
    internal LongTableCommands LongTables { get; }
    /// <summary>The commands and environments of mathematics.</summary>
    internal MathCommands MathCommands { get; }
    /// <summary>Matrices, cases, arrays and aligned blocks inside formulas.</summary>
    internal MathGrids MathGrids { get; }
    /// <summary>Structures of formulas: what grows above and below, fractions of all kinds, rooms, colours and strokes.</summary>
    internal MathCodeCommands MathCodes { get; }

    internal MathStructures MathStructures { get; }
    /// <summary>What packages ask of the builder beyond the kernel: the present state, and words drawn on, spaced and scaled.</summary>
    internal PackageServices PackageServices { get; }
    /// <summary>The page's measures: from the class, from wishes of a package, or lengths set by hand; and their changes on the way.</summary>
    internal PageMeasures PageMeasures { get; }
    /// <summary>Gives the lengths that a preamble may read and change the values that the class has for its type size.</summary>
    internal StandardMeasures StandardMeasures { get; }
    /// <summary>Heads and feet: a page style NAME is the command \ps@NAME, which defines \@oddhead, \@evenhead, \@oddfoot and \@evenfoot (the kernel's way, which class files use).</summary>
    internal PageStyleCommands PageStyles { get; }
    /// <summary>The page: paper, margins, page breaks, page styles, the document's beginning and end.</summary>
    internal PageCommands Pages { get; }
    /// <summary>The preamble: the document class, packages, their options, and class and style files that are files of the manuscript.</summary>
    internal PreambleCommands Preamble { get; }
    /// <summary>Labels and references. Numbers are known when all has been read, pages when they are made.</summary>
    internal ReferenceCommands References { get; }
    /// <summary>A table's specification of columns: {l@{ : }r|p{3cm}}.</summary>
    internal TableColumnReader TableColumns { get; }
    /// <summary>Further environments for tables, and the colour of their lines.</summary>
    internal TableKinds TableKinds { get; }
    /// <summary>Lines and spaces between the rows of a table.</summary>
    internal TableLineCommands TableLines { get; }
    /// <summary>Tables: cells are read one after the other as the tokens come, so that macros may hold whole rows.</summary>
    internal TableReader Tables { get; }
    /// <summary>Words and their looks: styles, sizes, accents, signs, spaces, verbatim text.</summary>
    internal TextCommands Text { get; }
    /// <summary>Primitives that paragraphs and formulas are made with, and hooks.</summary>
    internal PlainCommands Plain { get; }
    /// <summary>Commands that write, show, read or ask outside the document.</summary>
    internal SilentCommands Silent { get; }
    /// <summary>The picture environment.</summary>
    internal DrawingCommands Drawings { get; }
    /// <summary>Text in frames.</summary>
    internal FramedText Framed { get; }
    /// <summary>Lines at tab stops.</summary>
    internal TabbingCommands Tabbing { get; }
    /// <summary>Alignments by the primitives of the language.</summary>
    internal PlainAlignments PlainAlignments { get; }
    /// <summary>Fonts by the names of their files, and declarations of fonts.</summary>
    internal FontCommands Fonts { get; }
    /// <summary>Characters by their numbers, and signs that a preamble declares.</summary>
    internal DeclaredSignCommands DeclaredSigns { get; }
}
