namespace YoungFolio.Markup;

/// <summary>Thrown out of a runaway expansion; the main loop catches it and goes on with the source.</summary>
public sealed class RunawayException : Exception;

/// <summary>A limit of the compiler was reached; what was built so far still makes a proof.</summary>
public sealed class MarkupLimitException(string code, string message, int position) : Exception(message)
{
    /// <summary>The finding's code.</summary>
    public string Code => code;

    /// <summary>Where it happened.</summary>
    public int Position => position;
}
