using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>The token machine's parts, each by itself and without a document (Knuth, The TeXbook, chapters 7, 8, 20 and 24).</summary>
public sealed class MachineTests
{
    private static readonly Token s_here = Token.Character('x', Category.Letter, PositionTable.None);
    private readonly FindingLog _findings = new();
    private readonly Machine _machine;

    public MachineTests() => _machine = new Machine(_findings);

    private Token[] Read(string markup) => _machine.Tokenize(markup, PositionTable.None);

    private List<Token> Rest()
    {
        var rest = new List<Token>();
        for (Token token = _machine.Next(); !token.Is(Category.Stop); token = _machine.Next())
        {
            rest.Add(token);
        }

        return rest;
    }

    // Carries out assignments and definitions.
    private void Carry(string markup) => _machine.Definitions.Load(markup);

    [Theory]
    [InlineData('\\', Category.Escape)]
    [InlineData('{', Category.BeginGroup)]
    [InlineData('%', Category.Comment)]
    [InlineData('~', Category.Active)]
    [InlineData('7', Category.Other)]
    [InlineData('é', Category.Letter)]
    [InlineData(0x301, Category.Letter)]
    [InlineData(0x1F600, Category.Other)]
    [InlineData(0xFEFF, Category.Ignored)]
    public void A_character_has_its_usual_category(int code, Category category) => Assert.Equal(category, _machine.Categories.Of(code));

    [Fact]
    public void A_category_belongs_to_its_group_unless_it_is_said_for_all()
    {
        _machine.BeginGroup(GroupKind.Brace, "", 0);
        _machine.Categories.Set('|', Category.Active);
        _machine.Categories.Set('é', Category.Other);
        _machine.Categories.Set('!', Category.Letter, global: true);
        Assert.Equal((Category.Active, Category.Other), (_machine.Categories.Of('|'), _machine.Categories.Of('é')));
        _machine.EndGroup();
        Assert.Equal((Category.Other, Category.Letter, Category.Letter), (_machine.Categories.Of('|'), _machine.Categories.Of('é'), _machine.Categories.Of('!')));
    }

    [Fact]
    public void What_a_group_assigns_is_put_back_once_and_what_is_global_stays()
    {
        Scoped<int> register = _machine.Registers.Count(7);
        _machine.Assign(register, 1);
        _machine.BeginGroup(GroupKind.Command, "", 0);
        _machine.Assign(register, 2);
        _machine.BeginGroup(GroupKind.Command, "", 0);
        _machine.Assign(register, 3);
        _machine.Assign(register, 4);
        _machine.EndGroup();
        Assert.Equal(2, register.Value);
        _machine.BeginGroup(GroupKind.Command, "", 0);
        _machine.Assign(register, 9, global: true);
        _machine.EndGroup();
        _machine.EndGroup();
        Assert.Equal(9, register.Value);
        // An end without a beginning changes nothing.
        _machine.EndGroup();
        Assert.Empty(_machine.Groups);
    }

    [Fact]
    public void Tokens_wait_in_the_order_in_which_they_were_put_and_a_scan_sees_no_others()
    {
        _machine.Push(Read("cd"));
        _machine.Push(Read("ab"));
        Assert.Equal("a", _machine.Next().ToString());
        Assert.Equal("b", _machine.Peek().ToString());
        var seen = new List<string>();
        _machine.Scan(Read("xy"), () =>
        {
            seen.Add(_machine.Next().ToString());
            // What a reader leaves is taken away.
        });
        _machine.Scan([], () => seen.AddRange(Rest().Select(t => t.ToString())));
        Assert.Equal(["x"], seen);
        Assert.Equal("bcd", Rest().ToSource());
        Assert.True(_machine.Next().Is(Category.Stop));
    }

    [Fact]
    public void A_file_is_read_to_its_end_and_then_what_was_read_before_goes_on()
    {
        _machine.Push(Read("Z"));
        _machine.Input.OpenFile(ManuscriptFile.FromText("a.tex", "A%gone\nB"));
        Assert.Equal(["a.tex"], _machine.Input.OpenFiles);
        Assert.Equal("ABZ", Rest().ToSource());
        Assert.Empty(_machine.Input.OpenFiles);
    }

    [Theory]
    [InlineData("{abc}d", "abc")]
    [InlineData("  x y", "x")]
    [InlineData("{a{b}c}", "a{b}c")]
    [InlineData("\\sign x", "\\sign")]
    public void An_argument_is_a_group_or_one_token(string markup, string argument)
    {
        _machine.Push(Read(markup));
        Assert.Equal(argument, _machine.ReadArgument(s_here).ToSource().Trim());
    }

    [Fact]
    public void Options_stand_in_brackets_which_may_hold_others_in_braces()
    {
        _machine.Push(Read("[a{]}b]*c"));
        Assert.Equal("a{]}b", _machine.ReadOptional(s_here)!.ToSource());
        Assert.Null(_machine.ReadOptional(s_here));
        Assert.True(_machine.TakeStar());
        Assert.False(_machine.TakeStar());
        Assert.Equal("c", Rest().ToSource());
        _machine.Push(Read("(1,2)x"));
        Assert.Equal("1,2", _machine.ReadOptional(s_here, '(', ')')!.ToSource());
    }

    [Theory]
    [InlineData("42", 42)]
    [InlineData("-+-7", 7)]
    [InlineData("\"1F", 31)]
    [InlineData("'17", 15)]
    [InlineData("`A", 65)]
    [InlineData("\\count9", 12)]
    public void Numbers_are_read_in_every_notation(string markup, int number)
    {
        _machine.Assign(_machine.Registers.Count(9), 12);
        _machine.Push(Read(markup + " "));
        Assert.Equal(number, _machine.Quantities.ScanInteger());
    }

    [Theory]
    // Units of The TeXbook, chapter 10: 72.27 points to the inch, 2.54 centimetres to it, 1238 pt to 1157 dd, 12 to the pica.
    [InlineData("1in", 72.27)]
    [InlineData("2.54cm", 72.27)]
    [InlineData("25.4mm", 72.27)]
    [InlineData("72bp", 72.27)]
    [InlineData("1pc", 12)]
    [InlineData("1157dd", 1238)]
    [InlineData("65536sp", 1)]
    [InlineData("2em", 20)]
    [InlineData("-.5pt", -0.5)]
    [InlineData("2\\dimen3", 6)]
    public void Lengths_are_read_in_every_unit(string markup, double points)
    {
        _machine.Assign(_machine.Registers.Length(3), Dimension.FromPoints(3));
        _machine.Push(Read(markup + " "));
        Assert.Equal(points, _machine.Quantities.ScanDimension().Points, 0.01);
    }

    [Fact]
    public void A_space_stretches_and_shrinks_and_a_wrong_one_is_said()
    {
        Glue glue = Assert.NotNull(_machine.Quantities.ParseGlue(Read("1pt plus 2fil minus 3pt"), s_here));
        Assert.Equal((1.0, 2.0, 1, 3.0), (glue.Width.Points, glue.Stretch.Points, glue.StretchOrder, glue.Shrink.Points));
        Assert.Null(_machine.Quantities.ParseGlue(Read("wide"), s_here));
        Assert.Single(_findings.All);
    }

    [Fact]
    public void Registers_by_number_are_others_than_those_of_another_kind_and_new_ones_nobodys()
    {
        _machine.Assign(_machine.Registers.Skip(4), Glue.Of(1));
        _machine.Assign(_machine.Registers.MuSkip(4), Glue.Of(2));
        Assert.Equal((1.0, 2.0), (_machine.Registers.Skip(4).Value.Width.Points, _machine.Registers.MuSkip(4).Value.Width.Points));
        Assert.Equal(0, _machine.Registers.Length(4).Value.Scaled);
        Assert.NotEqual(_machine.Registers.Allocate(), _machine.Registers.Allocate());
        Assert.Equal(('a', 'A', 0), ((char)_machine.Registers.LowerCode('A').Value, (char)_machine.Registers.UpperCode('a').Value, _machine.Registers.UpperCode('1').Value));
    }

    [Fact]
    public void A_counter_that_is_stepped_sets_those_within_it_to_nought_and_tells_of_itself()
    {
        var told = new List<string>();
        _machine.Counters.Changed = (name, value) => told.Add($"{name}={value}");
        _machine.Counters.Add("outer");
        _machine.Counters.Add("inner", within: "outer");
        _machine.Counters.Add("innermost", within: "inner");
        _machine.Counters.Step("inner", s_here);
        _machine.Counters.Step("innermost", s_here);
        _machine.Counters.Step("outer", s_here);
        Assert.Equal((1, 0, 0), (_machine.Counters.Find("outer")!.Value, _machine.Counters.Find("inner")!.Value, _machine.Counters.Find("innermost")!.Value));
        Assert.Equal(["inner=1", "innermost=1", "outer=1"], told);
        Assert.Null(_machine.Counters.Require("outter", s_here));
        Assert.Contains("outer", Assert.Single(_findings.All).Advice, StringComparison.Ordinal);
    }

    [Fact]
    public void Switches_and_conditions_are_told_from_one_another()
    {
        _machine.Conditionals.NewSwitch("draft");
        Assert.False(_machine.Conditionals.IsSwitchOn("draft"));
        Carry("\\drafttrue");
        Assert.True(_machine.Conditionals.IsSwitchOn("draft"));
        _machine.Conditionals.SetSwitch("draft", false);
        Assert.Equal("no", _machine.ExpandToText(Read("\\ifdraft yes\\else no\\fi")));
        Assert.Equal("ab", _machine.ExpandToText(Read("\\ifnum1<2 a\\fi\\ifcase2 x\\or y\\or b\\fi")));
    }

    [Fact]
    public void A_command_that_leads_back_to_itself_is_left_out_and_named()
    {
        Carry("\\def\\round{\\round}");
        _machine.Push(Read("\\round after"));
        Assert.Throws<RunawayException>(() => _machine.NextExpanded());
        Assert.Equal("endless-macro", Assert.Single(_findings.All).Code);
        Assert.Equal("", _machine.ExpandToText(Read("\\round")));
    }

    [Fact]
    public void Too_many_groups_and_too_many_tokens_end_in_a_limit()
    {
        Assert.Equal("nested-too-deep", Assert.Throws<MarkupLimitException>(() =>
        {
            for (int i = 0; i < 3_000; i++)
            {
                _machine.BeginGroup(GroupKind.Brace, "", 0);
            }
        }).Code);
        var many = new Token[1_000_000];
        Array.Fill(many, s_here);
        Assert.Equal("too-much-text", Assert.Throws<MarkupLimitException>(() =>
        {
            for (int i = 0; i < 5; i++)
            {
                _machine.Push(many);
            }
        }).Code);
    }

    [Fact]
    public void Lists_of_tokens_are_parted_outside_braces_and_trimmed()
    {
        Assert.Equal(["a", "b,c", "d"], TokenLists.SplitAtCommas(Read(" a ,{b,c}, d,")).Select(m => m.ToSource()));
        Assert.Equal("x y", TokenLists.TrimSpaces(Read("  x y ")).ToSource());
        Assert.Equal("{x}", TokenLists.Braced(Read("x"), 0).ToSource());
    }

    [Fact]
    public void Names_become_known_by_being_met_and_mean_nothing_before()
    {
        Assert.False(_machine.IsDefined("lichen"));
        Assert.Same(_machine.Symbol("lichen"), _machine.Symbols.Of("lichen".AsSpan()));
        Assert.NotSame(_machine.Symbols.OfActive('~'), _machine.Symbol("~"));
        Carry("\\def\\lichen{Rhizocarpon}");
        Assert.True(_machine.IsDefined("lichen"));
        Assert.Contains("lichen", _machine.Symbols.DefinedNames);
        Assert.Equal("Rhizocarpon", _machine.ExpandToText(Read("\\lichen")));
    }
}
