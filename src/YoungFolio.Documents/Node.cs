using System.Runtime.CompilerServices;

namespace YoungFolio.Documents;

/// <summary>
/// Anything that the document tree is made of. A node is an immutable record; a change is a copy (<c>with</c>). What follows from its properties is
/// made from them by the compiler (<c>YoungFolio.Documents.Generator</c>), so that no walk can forget one: a property that can't be walked or summed
/// up doesn't build. Nodes are themselves and equal to no other; what they say is compared by their fingerprints.
/// </summary>
public abstract record Node
{
    /// <summary>The number of the kind of node: no two kinds have the same.</summary>
    public abstract int NodeKind { get; }

    /// <summary>The nodes that print within this one, in the order of reading.</summary>
    public abstract IEnumerable<Node> Children { get; }

    /// <summary>Adds all that the node is to a fingerprint: every property, and all nodes below.</summary>
    public abstract void AddTo(Fingerprint sum);

    /// <summary>Whether it is this very node.</summary>
    public virtual bool Equals(Node? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => RuntimeHelpers.GetHashCode(this);
}

/// <summary>Text that a node carries for another place (the contents, a running head): walks over what prints here pass it over.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class PrintsElsewhereAttribute : Attribute;

/// <summary>Goes through trees.</summary>
public static class NodeWalk
{
    /// <summary>These nodes and all below them, each before what is in it, in the order of reading.</summary>
    public static IEnumerable<Node> All(IEnumerable<Node> nodes)
    {
        // A stack of its own: nothing that is written may overflow the program's.
        var open = new Stack<IEnumerator<Node>>();
        open.Push(nodes.GetEnumerator());
        while (open.TryPeek(out IEnumerator<Node>? next))
        {
            if (next.MoveNext())
            {
                Node node = next.Current;
                yield return node;
                open.Push(node.Children.GetEnumerator());
            }
            else
            {
                open.Pop().Dispose();
            }
        }
    }

    /// <summary>All blocks of a flow, those inside others too, but for what stands in lines.</summary>
    public static IEnumerable<Block> Flow(IEnumerable<Block> blocks)
    {
        foreach (Block block in blocks)
        {
            yield return block;
            foreach (Block child in block is ParagraphBlock ? [] : Flow(block.Children.OfType<Block>()))
            {
                yield return child;
            }
        }
    }

    /// <summary>This node and all below it.</summary>
    public static IEnumerable<Node> All(Node node) => All([node]);
}
