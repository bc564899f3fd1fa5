using YoungFolio.Tool;

return args switch
{
    ["compile", .. var rest] => CompileCommand.Run(rest),
    ["bench", .. var rest] => BenchCommand.Run(rest),
    ["markup"] => Markup(),
    _ => Help(),
};

static int Markup()
{
    Console.Write(YoungFolio.Manuscript.Building.MarkupRegistry.ToMarkdown());
    return 0;
}

static int Help()
{
    Console.WriteLine("compile FOLDER|FILE.tex [-o out.pdf] [--report out.json] [--since FOLDER|FILE.tex]");
    Console.WriteLine("bench [--json FILE]");
    Console.WriteLine("markup");
    return 2;
}
