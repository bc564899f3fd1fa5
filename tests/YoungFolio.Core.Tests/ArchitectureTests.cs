using System.Reflection;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Holds the layers: each project knows only those above it, and the core knows no interface.</summary>
public class ArchitectureTests
{
    private static readonly string[] s_layers =
        ["YoungFolio.Markup", "YoungFolio.Bibliography", "YoungFolio.Manuscript", "YoungFolio.Typesetting", "YoungFolio.Pdf", "YoungFolio.Compiler", "YoungFolio.Cowriting", "YoungFolio.Chronicle"];

    [Fact]
    public void A_layer_knows_only_those_above_it()
    {
        foreach (Assembly assembly in Core())
        {
            int own = Array.IndexOf(s_layers, assembly.GetName().Name);
            foreach (AssemblyName reference in assembly.GetReferencedAssemblies().Where(r => r.Name!.StartsWith("YoungFolio.", StringComparison.Ordinal)))
            {
                int other = Array.IndexOf(s_layers, reference.Name);
                Assert.True(other >= 0 && other < own, $"{assembly.GetName().Name} knows {reference.Name}");
            }
        }
    }

    [Fact]
    public void The_core_knows_no_server_database_disk_or_clock()
    {
        foreach (Assembly assembly in Core())
        {
            Assert.DoesNotContain(assembly.GetReferencedAssemblies(), r =>
                r.Name!.StartsWith("Microsoft.", StringComparison.Ordinal) || r.Name == "System.Net.Http" || r.Name == "System.IO.FileSystem");
        }

        string root = Path.Combine(Path.GetDirectoryName(Here())!, "..", "..", "src");
        foreach (string layer in s_layers)
        {
            foreach (string file in Directory.EnumerateFiles(Path.Combine(root, layer), "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("/obj/", StringComparison.Ordinal)))
            {
                string text = File.ReadAllText(file);
                Assert.DoesNotContain("DateTime.", text);
                Assert.DoesNotContain("File.Read", text);
                Assert.DoesNotContain("CurrentCulture", text);
            }
        }
    }

    private static string Here([System.Runtime.CompilerServices.CallerFilePath] string here = "") => here;

    private static IEnumerable<Assembly> Core()
    {
        var found = new Dictionary<string, Assembly>();
        var waiting = new Queue<Assembly>([typeof(ManuscriptCompiler).Assembly, typeof(Chronicle.ChronicleReader).Assembly]);
        while (waiting.TryDequeue(out Assembly? assembly))
        {
            if (found.TryAdd(assembly.GetName().Name!, assembly))
            {
                foreach (AssemblyName reference in assembly.GetReferencedAssemblies().Where(r => r.Name!.StartsWith("YoungFolio.", StringComparison.Ordinal)))
                {
                    waiting.Enqueue(Assembly.Load(reference));
                }
            }
        }

        Assert.True(found.Count >= 5);
        return found.Values;
    }
}
