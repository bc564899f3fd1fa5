using YoungFolio.Tool;
using YoungFolio.Tool.Attack;

return args switch
{
    ["compile", .. var rest] => CompileCommand.Run(rest),
    ["bench", .. var rest] => await BenchCommand.RunAsync(rest),
    ["hostile", .. var rest] => AttackCommand.Run(rest),
    ["soak", .. var rest] => await SoakCommand.RunAsync(rest),
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
    Console.WriteLine("compile FOLDER|FILE.tex [-o out.pdf] [--report out.json] [--marks] [--archival] [--accessible] [--html out.html] [--since FOLDER|FILE.tex]");
    Console.WriteLine("bench [--json FILE] [--only compile|writing|attack[:WORDS]]");
    Console.WriteLine("hostile [WORDS]");
    Console.WriteLine("soak [--minutes N] [--seed N] [--only fuzz|edits|kills]");
    Console.WriteLine("markup");
    return 2;
}
