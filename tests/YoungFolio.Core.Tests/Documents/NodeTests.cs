using System.Collections;
using System.Reflection;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Every kind of node, through every walk: what is made from its properties holds for all of them.</summary>
public sealed class NodeTests
{
    public static TheoryData<Type> Kinds => [.. AllKinds()];

    private static IEnumerable<Type> AllKinds() => typeof(Node).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(Node)) && !t.IsAbstract).OrderBy(t => t.Name, StringComparer.Ordinal);

    // What is stored: properties that are computed from others say nothing of their own.
    private static IEnumerable<PropertyInfo> Stored(Type kind) => kind.GetProperties(BindingFlags.Instance | BindingFlags.Public)
        .Where(p => p.GetSetMethod(true) is not null || (p.DeclaringType!.GetField($"<{p.Name}>k__BackingField", BindingFlags.Instance | BindingFlags.NonPublic) is not null));

    private static object? Sample(Type type, int variant)
    {
        Type? element = type.IsGenericType && type.GetGenericTypeDefinition() == typeof(IReadOnlyList<>) ? type.GetGenericArguments()[0] : null;
        if (element is not null)
        {
            var list = (IList)Activator.CreateInstance(typeof(List<>).MakeGenericType(element))!;
            for (int i = 0; i <= variant; i++)
            {
                list.Add(Sample(element, variant));
            }

            return list;
        }

        if (Nullable.GetUnderlyingType(type) is { } inner)
        {
            return Sample(inner, variant);
        }

        if (type.IsEnum)
        {
            return Enum.GetValues(type).GetValue(variant)!;
        }

        return type switch
        {
            _ when type == typeof(string) => "text " + variant,
            _ when type == typeof(int) => 3 + variant,
            _ when type == typeof(double) => 1.5 + variant,
            _ when type == typeof(bool) => variant == 1,
            _ when type == typeof(char) => (char)('l' + variant),
            _ when type == typeof(int[]) => variant == 1 ? [4, 9] : new[] { 4, 5 },
            _ when type == typeof(Glue) => Glue.Of(2 + variant),
            _ when type == typeof(Dimension) => Glue.Of(2 + variant).Width,
            _ when type == typeof(Inline) => new AnchorInline("anchor " + variant),
            _ when type == typeof(Block) => new AnchorBlock("anchor " + variant),
            _ when type == typeof(MathNode) => new MathPenalty(variant),
            _ when type == typeof(Nucleus) => new WordNucleus("word " + variant),
            _ when type == typeof(DrawingPart) => new DrawnText(variant, 1, [new AnchorInline("put " + variant)]),
            _ when type == typeof(TableItem) => new TableLine(variant, 1, 1, 0),
            _ => Make(type, variant),
        };
    }

    private static object Make(Type type, int variant)
    {
        ConstructorInfo constructor = type.GetConstructors().MaxBy(c => c.GetParameters().Length)!;
        object made = constructor.Invoke([.. constructor.GetParameters().Select(p => Sample(p.ParameterType, variant))]);
        foreach (PropertyInfo property in Stored(type).Where(p => p.GetSetMethod(true) is not null))
        {
            property.SetValue(made, Sample(property.PropertyType, variant));
        }

        return made;
    }

    private static Node Changed(Node node, PropertyInfo property, object? value)
    {
        var copy = (Node)node.GetType().GetMethod("<Clone>$")!.Invoke(node, [])!;
        property.SetValue(copy, value);
        return copy;
    }

    /// <summary>A fingerprint that forgot a property would show pages of before: a change of any property, whatever it holds, changes the number.</summary>
    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_change_of_any_property_changes_the_fingerprint(Type kind)
    {
        var node = (Node)Make(kind, 0);
        Assert.Equal(Fingerprint.Of(node), Fingerprint.Of((Node)Make(kind, 0)));
        foreach (PropertyInfo property in Stored(kind))
        {
            object? other = property.Name.EndsWith("Position", StringComparison.Ordinal) && property.PropertyType == typeof(int) ? PositionTable.None : Sample(property.PropertyType, 1);
            Assert.True(Fingerprint.Of(node) != Fingerprint.Of(Changed(node, property, other)), $"{kind.Name}.{property.Name}");
            if (!property.PropertyType.IsValueType && new NullabilityInfoContext().Create(property).ReadState == NullabilityState.Nullable)
            {
                Assert.True(Fingerprint.Of(node) != Fingerprint.Of(Changed(node, property, null)), $"{kind.Name}.{property.Name}: none");
            }
        }
    }

    /// <summary>A walk that missed a property would miss the formulas, words and places in it.</summary>
    [Theory]
    [MemberData(nameof(Kinds))]
    public void Children_are_all_nodes_that_print_here(Type kind)
    {
        var node = (Node)Make(kind, 1);
        HashSet<Node> children = [.. node.Children];
        foreach (PropertyInfo property in Stored(kind))
        {
            bool isElsewhere = property.GetCustomAttribute<PrintsElsewhereAttribute>() is not null;
            foreach (Node held in Held(property.GetValue(node)))
            {
                Assert.True(children.Contains(held) == !isElsewhere, $"{kind.Name}.{property.Name}");
            }
        }

        Assert.Equal(children.Count, node.Children.Count());
        Assert.Contains(node, NodeWalk.All(node));
        Assert.True(children.All(NodeWalk.All(node).Contains));
    }

    private static IEnumerable<Node> Held(object? value) => value switch
    {
        Node node => [node],
        System.Runtime.CompilerServices.ITuple tuple => Enumerable.Range(0, tuple.Length).SelectMany(i => Held(tuple[i])),
        string => [],
        IEnumerable list => list.Cast<object>().SelectMany(Held),
        _ => [],
    };

    [Fact]
    public void Each_kind_has_a_number_of_its_own_and_a_node_is_equal_to_itself_alone()
    {
        Node[] all = [.. AllKinds().Select(k => (Node)Make(k, 0))];
        Assert.True(all.Length > 60);
        Assert.Equal(all.Length, all.Select(n => n.NodeKind).Distinct().Count());
        Assert.All(all, n => Assert.False(n.Equals((Node)Make(n.GetType(), 0))));
        Assert.All(all, n => Assert.True(n.Equals(n)));
    }

    [Fact]
    public void Text_that_only_moved_in_the_source_keeps_its_number()
    {
        TextRun At(params int[] positions) => new("ab", positions, new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));
        Assert.Equal(Fingerprint.Of(At(7, 8)), Fingerprint.Of(At(900, 901)));
        Assert.NotEqual(Fingerprint.Of(At(7, 8)), Fingerprint.Of(At(7, 9)));
        Assert.NotEqual(Fingerprint.Of(new BoxInline([At(7, 8), At(9, 10)])), Fingerprint.Of(new BoxInline([At(7, 8), At(20, 21)])));
        Assert.NotEqual(Fingerprint.Of(At(7, 8)), Fingerprint.Of(At(PositionTable.None, PositionTable.None)));
    }

    [Fact]
    public void A_walk_goes_in_the_order_of_reading_however_deep()
    {
        Block nested = new AnchorBlock("innermost");
        for (int i = 0; i < 50_000; i++)
        {
            nested = new GroupBlock([nested]);
        }

        Node[] all = [.. NodeWalk.All([nested, new AnchorBlock("after")])];
        Assert.Equal(50_002, all.Length);
        Assert.Equal(["innermost", "after"], all.OfType<AnchorBlock>().Select(a => a.Name));
    }
}
