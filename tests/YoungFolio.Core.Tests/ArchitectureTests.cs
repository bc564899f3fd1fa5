using System.Reflection;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Holds the layers: each project knows only those above it, and the core knows no interface.</summary>
public partial class ArchitectureTests
{
    private static readonly string[] s_layers =
        ["YoungFolio.Markup", "YoungFolio.Bibliography", "YoungFolio.Documents", "YoungFolio.Manuscript", "YoungFolio.Typesetting", "YoungFolio.Pdf", "YoungFolio.Compiler", "YoungFolio.HandIn", "YoungFolio.Cowriting", "YoungFolio.Chronicle"];

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

    /// <summary>Setting pages needs the tree alone, and reading needs no page: either can change without the other.</summary>
    [Fact]
    public void Typesetting_and_reading_know_nothing_of_each_other_and_the_tree_knows_neither()
    {
        string[] KnownTo(Type type) => [.. type.Assembly.GetReferencedAssemblies().Select(r => r.Name!).Where(r => r.StartsWith("YoungFolio.", StringComparison.Ordinal))];
        Assert.DoesNotContain("YoungFolio.Manuscript", KnownTo(typeof(Typesetting.Typesetter)));
        Assert.DoesNotContain("YoungFolio.Typesetting", KnownTo(typeof(YoungFolio.Manuscript.Building.DocumentBuilder)));
        Assert.Equal(["YoungFolio.Bibliography", "YoungFolio.Markup"], KnownTo(typeof(Documents.Node)).Order(StringComparer.Ordinal));
    }

    /// <summary>One name, one meaning: whoever reads a type's name in the core needn't ask which one it is. What is nested and private is its owner's.</summary>
    [Fact]
    public void A_type_name_means_one_thing()
    {
        IEnumerable<string> twice = Core().SelectMany(a => a.GetTypes())
            .Where(t => !t.Name.StartsWith('<') && (t.Namespace ?? "").StartsWith("YoungFolio", StringComparison.Ordinal) && (!t.IsNested || t.IsNestedPublic || t.IsNestedAssembly))
            .GroupBy(t => t.Name).Where(g => g.Count() > 1).Select(g => string.Join(", ", g.Select(t => t.FullName)));
        Assert.Empty(twice);
    }

    /// <summary>
    /// A class of the machine or of reading is one job with its own state: one that grows beyond this wants a part of it to be a class of its own.
    /// What is measured is the class over all its files, and what can change in it.
    /// </summary>
    [Fact]
    public void Classes_of_the_machine_and_of_reading_stay_small_and_hold_little_that_changes()
    {
        const int MostLines = 660;
        const int MostThatChanges = 14;
        var lines = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (string file in SourceTree.Files("src/YoungFolio.Markup").Concat(SourceTree.Files("src/YoungFolio.Manuscript")))
        {
            string[] text = File.ReadAllLines(file);
            if (text.Select(l => DeclaredClass().Match(l)).FirstOrDefault(m => m.Success) is { } found)
            {
                lines[found.Groups[1].Value] = lines.GetValueOrDefault(found.Groups[1].Value) + text.Length;
            }
        }

        Assert.True(lines.Count > 100);
        Assert.DoesNotContain(lines, l => l.Value > MostLines);
        IEnumerable<string> changing = typeof(YoungFolio.Manuscript.Building.DocumentBuilder).Assembly.GetTypes().Concat(typeof(Markup.Machine).Assembly.GetTypes())
            .Where(t => t.IsClass && !t.IsNested && t.Namespace?.StartsWith("YoungFolio.", StringComparison.Ordinal) == true)
            .Select(t => (Type: t, Count: t.GetFields(BindingFlags.Instance | BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.DeclaredOnly).Count(f => !f.IsInitOnly && !f.IsLiteral)))
            .Where(t => t.Count > MostThatChanges && t.Type.GetMethod("<Clone>$") is null).Select(t => $"{t.Type.Name}: {t.Count}");
        Assert.Empty(changing);
    }

    [System.Text.RegularExpressions.GeneratedRegex(@"^(?:public|internal) (?:sealed |static |abstract |partial )*class (\w+)")]
    private static partial System.Text.RegularExpressions.Regex DeclaredClass();

    [Fact]
    public void The_core_knows_no_server_database_disk_or_clock()
    {
        foreach (Assembly assembly in Core())
        {
            Assert.DoesNotContain(assembly.GetReferencedAssemblies(), r =>
                r.Name!.StartsWith("Microsoft.", StringComparison.Ordinal) || r.Name == "System.Net.Http" || r.Name == "System.IO.FileSystem");
        }

        foreach (string layer in s_layers)
        {
            foreach (string file in SourceTree.Files(Path.Combine("src", layer)))
            {
                string text = File.ReadAllText(file);
                Assert.DoesNotContain("DateTime.", text);
                Assert.DoesNotContain("File.Read", text);
                Assert.DoesNotContain("CurrentCulture", text);
            }
        }
    }

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
