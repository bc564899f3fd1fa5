using YoungFolio.Tool;

return args switch
{
    ["compile", .. var rest] => CompileCommand.Run(rest),
    ["bench", .. var rest] => await BenchCommand.RunAsync(rest),
    ["hostile", .. var rest] => YoungFolio.Tool.Attack.AttackCommand.Run(rest),
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
    Console.WriteLine("bench [--json FILE] [--only compile|writing]");
    Console.WriteLine("markup");
    return 2;
}
