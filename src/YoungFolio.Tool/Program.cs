using YoungFolio.Tool;

return args switch
{
    ["compile", .. var rest] => CompileCommand.Run(rest),
    ["bench", .. var rest] => BenchCommand.Run(rest),
    _ => Help(),
};

static int Help()
{
    Console.WriteLine("compile FOLDER|FILE.tex [-o out.pdf] [--report out.json]");
    Console.WriteLine("bench [--json FILE]");
    return 2;
}
