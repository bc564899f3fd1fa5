namespace YoungFolio.Markup;

/// <summary>
/// The token machine: reads files, expands macros, keeps groups and registers. The language is that of
/// Knuth's <em>The TeXbook</em> (chapters 7, 8, 20, 24) with the additions of Lamport's <em>LaTeX</em>.
/// It knows nothing of documents: whoever builds one registers commands and reads expanded tokens.
/// This is the front that commands are given: its parts each have one job, and what nearly every command asks of them can be asked here.
/// </summary>
public sealed class Machine
{
    /// <summary>Creates a machine with the language's own commands.</summary>
    /// <param name="findings">Takes what the machine has to say.</param>
    /// <param name="budget">What the compile may take; null: as much as one.</param>
    public Machine(FindingLog findings, WorkBudget? budget = null)
    {
        Findings = findings;
        Budget = budget ?? new WorkBudget();
        Symbols = new SymbolTable();
        Par = Symbols.Of("par");
        Input = new TokenInput(this);
        Scopes = new ScopeTable(this);
        Categories = new CategoryTable(Scopes);
        Registers = new RegisterFile(this);
        Expander = new Expander(this);
        Arguments = new ArgumentReader(this);
        Quantities = new QuantityScanner(this);
        Expressions = new ExpressionScanner(this);
        Conditionals = new Conditionals(this);
        Definitions = new DefinitionCommands(this);
        Assignments = new AssignmentCommands(this);
        Conversions = new ConversionCommands(this);
        Arithmetic = new ArithmeticCommands(this);
        Counters = new CounterTable(this);
        DocumentCommands = new DocumentCommands(this);

        Scopes.DefineGroups();
        Expander.DefineExpansion();
        Conversions.DefineConversions();
        Arithmetic.Define();
        Assignments.DefineRegisters();
        Assignments.DefineAssignments();
        Expressions.DefineExpressions();
        Conditionals.DefineConditionals();
        Definitions.DefineDefinitions();
        Counters.DefineCounters();
        Conditionals.DefineSwitches();
        new KernelCommands(this).DefineKernel();
        DocumentCommands.DefineDocumentCommands();
        Definitions.Load(KernelDefinitions.Markup);
    }

    /// <summary>Where findings go.</summary>
    public FindingLog Findings { get; }

    /// <summary>What the compile may still take.</summary>
    public WorkBudget Budget { get; }

    /// <summary>Positions of all that was read.</summary>
    public PositionTable Positions { get; } = new();

    /// <summary>The names and what they mean.</summary>
    public SymbolTable Symbols { get; }

    /// <summary>The category codes.</summary>
    public CategoryTable Categories { get; }

    /// <summary>The open groups, and assignments in them.</summary>
    public ScopeTable Scopes { get; }

    /// <summary>The registers.</summary>
    public RegisterFile Registers { get; }

    /// <summary>What is read.</summary>
    public TokenInput Input { get; }

    /// <summary>Replaces commands by what they stand for.</summary>
    public Expander Expander { get; }

    /// <summary>Reads arguments.</summary>
    public ArgumentReader Arguments { get; }

    /// <summary>Reads numbers and lengths.</summary>
    public QuantityScanner Quantities { get; }

    /// <summary>Reads expressions.</summary>
    public ExpressionScanner Expressions { get; }

    /// <summary>Conditionals and switches.</summary>
    public Conditionals Conditionals { get; }

    /// <summary>Commands that define.</summary>
    public DefinitionCommands Definitions { get; }

    /// <summary>Commands that assign.</summary>
    public AssignmentCommands Assignments { get; }

    /// <summary>Commands that turn tokens and values into others.</summary>
    public ConversionCommands Conversions { get; }

    /// <summary>Expressions that are computed.</summary>
    public ArithmeticCommands Arithmetic { get; }

    /// <summary>The counters.</summary>
    public CounterTable Counters { get; }

    /// <summary>Commands whose arguments are described by letters.</summary>
    public DocumentCommands DocumentCommands { get; }

    /// <summary>The symbol <c>\par</c>, which an empty line gives.</summary>
    public Symbol Par { get; }

    /// <inheritdoc cref="ScopeTable.Groups"/>
    public IReadOnlyList<Group> Groups => Scopes.Groups;

    /// <inheritdoc cref="SymbolTable.Of(string)"/>
    public Symbol Symbol(string name) => Symbols.Of(name);

    /// <inheritdoc cref="SymbolTable.IsDefined"/>
    public bool IsDefined(string name) => Symbols.IsDefined(name);

    /// <inheritdoc cref="SymbolTable.Define"/>
    public void Define(string name, Action<Machine, Token> execute) => Symbols.Define(name, execute);

    /// <inheritdoc cref="SymbolTable.DefineExpandable"/>
    public void DefineExpandable(string name, Action<Machine, Token> expand) => Symbols.DefineExpandable(name, expand);

    /// <inheritdoc cref="SymbolTable.DefineMeaning"/>
    public void DefineMeaning(string name, Meaning meaning) => Symbols.DefineMeaning(name, meaning);

    /// <inheritdoc cref="ScopeTable.Assign{T}"/>
    public void Assign<T>(Scoped<T> target, T value, bool global = false) => Scopes.Assign(target, value, global);

    /// <inheritdoc cref="ScopeTable.BeginGroup"/>
    public Group BeginGroup(GroupKind kind, string name, int position) => Scopes.BeginGroup(kind, name, position);

    /// <inheritdoc cref="ScopeTable.EndGroup"/>
    public void EndGroup() => Scopes.EndGroup();

    /// <inheritdoc cref="TokenInput.Next"/>
    public Token Next() => Input.Next();

    /// <inheritdoc cref="TokenInput.Peek"/>
    public Token Peek() => Input.Peek();

    /// <inheritdoc cref="TokenInput.PutBack"/>
    public void PutBack(Token token) => Input.PutBack(token);

    /// <inheritdoc cref="TokenInput.Push(Token[])"/>
    [System.Runtime.CompilerServices.OverloadResolutionPriority(1)]
    public void Push(params Token[] tokens) => Input.Push(tokens);

    /// <inheritdoc cref="TokenInput.Push(List{Token})"/>
    public void Push(List<Token> tokens) => Input.Push(tokens);

    /// <inheritdoc cref="TokenInput.Scan"/>
    public void Scan(IReadOnlyList<Token> tokens, Action reader) => Input.Scan(tokens, reader);

    /// <inheritdoc cref="TokenInput.Tokenize"/>
    public Token[] Tokenize(string markup, int position) => Input.Tokenize(markup, position);

    /// <inheritdoc cref="Expander.NextExpanded"/>
    public Token NextExpanded() => Expander.NextExpanded();

    /// <inheritdoc cref="Expander.ExpandToText"/>
    public string ExpandToText(IReadOnlyList<Token> tokens) => Expander.ExpandToText(tokens);

    /// <inheritdoc cref="ArgumentReader.ReadArgument"/>
    public List<Token> ReadArgument(Token command) => Arguments.ReadArgument(command);

    /// <inheritdoc cref="ArgumentReader.ReadText"/>
    public string ReadText(Token command) => Arguments.ReadText(command);

    /// <inheritdoc cref="ArgumentReader.ReadOptional"/>
    public List<Token>? ReadOptional(Token command, char open = '[', char close = ']') => Arguments.ReadOptional(command, open, close);

    /// <inheritdoc cref="ArgumentReader.ReadOptionalText"/>
    public string? ReadOptionalText(Token command) => Arguments.ReadOptionalText(command);

    /// <inheritdoc cref="ArgumentReader.TakeStar"/>
    public bool TakeStar() => Arguments.TakeStar();

    /// <inheritdoc cref="ArgumentReader.SkipSpaces"/>
    public void SkipSpaces(bool paragraphs = false) => Arguments.SkipSpaces(paragraphs);
}
