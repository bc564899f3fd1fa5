namespace YoungFolio.Markup;

/// <summary>Which limit a compile met.</summary>
public enum WorkLimit
{
    /// <summary>One block is larger than any that is meant.</summary>
    Block,

    /// <summary>All of it is larger than the compiler takes.</summary>
    Size,

    /// <summary>It takes longer than the compiler allows.</summary>
    Time,
}

/// <summary>A compile met a limit; what is there by then makes the proof.</summary>
public sealed class WorkLimitException(WorkLimit limit) : Exception($"A limit of {limit} was met.")
{
    /// <summary>Which one.</summary>
    public WorkLimit Limit => limit;
}

/// <summary>
/// What one compile may take, counted where it is taken: every loop whose length a manuscript decides spends from it. A unit stands for
/// about a hundred bytes of memory, so that counting holds memory, and the same manuscript always ends at the same place; time is the
/// last resort. The same places look whether the compile is still wanted.
/// </summary>
/// <param name="secondsUsed">Processor time of the compile so far, in seconds; null: time has no limit.</param>
/// <param name="wait">May wait, so that others go first; null: nobody does.</param>
/// <param name="cancellation">Stops a compile that is no longer wanted.</param>
public sealed class WorkBudget(Func<double>? secondsUsed = null, Action<CancellationToken>? wait = null, CancellationToken cancellation = default)
{
    /// <summary>For reading: beyond what a manuscript of two thousand pages takes.</summary>
    public const long Reading = 3_000_000;

    /// <summary>For one round of typesetting.</summary>
    public const long Typesetting = 12_000_000;

    /// <summary>For one block: a paragraph, a table, a display, a float.</summary>
    public const long LargestBlock = 3_000_000;

    /// <summary>For ending what a limit cut short.</summary>
    public const long Ending = 500_000;

    /// <summary>Processor time after which reading ends, in seconds.</summary>
    public const double ReadingUntil = 3.5;

    /// <summary>Processor time after which what was read has been ended, in seconds.</summary>
    public const double EndingUntil = 4;

    /// <summary>Processor time after which nothing more is set, in seconds.</summary>
    public const double FlowUntil = 5.5;

    /// <summary>Processor time after which no more pages are made, in seconds.</summary>
    public const double PagesUntil = 7.5;

    /// <summary>Processor time after which pages aren't made once more for the sake of their numbers, in seconds.</summary>
    public const double RoundsUntil = 4.5;

    // Processor time that one block may take, in seconds.
    private const double LongestBlock = 1.5;
    private const int ChecksBetweenLooks = 256;

    private long _left = Reading;
    private long _leftOfBlock = Reading;
    private double _until = ReadingUntil;
    private double _blockUntil = double.PositiveInfinity;
    private int _checks;

    /// <summary>Stops the work when it is no longer wanted.</summary>
    public CancellationToken Cancellation => cancellation;

    /// <summary>Begins a stage of the work.</summary>
    /// <param name="most">Units that it may take.</param>
    /// <param name="until">Processor time, in seconds, at which it ends.</param>
    public void Begin(long most, double until)
    {
        _left = _leftOfBlock = most;
        _until = until;
        _blockUntil = double.PositiveInfinity;
    }

    /// <summary>Begins a block of the stage, which may take but a part of what the stage may: the others come too.</summary>
    public void BeginBlock()
    {
        _leftOfBlock = LargestBlock;
        // Asking costs more than setting a short line: it is asked anew with the first look.
        _blockUntil = double.NaN;
    }

    /// <summary>Whether so much processor time has passed, in seconds.</summary>
    public bool IsPast(double seconds) => secondsUsed is not null && secondsUsed() > seconds;

    /// <summary>Takes something.</summary>
    /// <exception cref="WorkLimitException">There isn't so much left, or no time.</exception>
    /// <exception cref="OperationCanceledException">The work isn't wanted any more.</exception>
    public void Spend(long units = 1)
    {
        _left -= units;
        _leftOfBlock -= units;
        if (_leftOfBlock < 0 || _left < 0)
        {
            throw new WorkLimitException(_left < 0 ? WorkLimit.Size : WorkLimit.Block);
        }

        Check();
    }

    /// <summary>Looks whether the work is still wanted, and whether others go first; any thread of the compile may.</summary>
    /// <exception cref="OperationCanceledException">The work isn't wanted any more.</exception>
    public void Look()
    {
        cancellation.ThrowIfCancellationRequested();
        wait?.Invoke(cancellation);
    }

    /// <summary>Looks, now and then, whether there is time and the work is still wanted.</summary>
    /// <exception cref="WorkLimitException">There is no time left.</exception>
    /// <exception cref="OperationCanceledException">The work isn't wanted any more.</exception>
    public void Check()
    {
        if (++_checks >= ChecksBetweenLooks)
        {
            _checks = 0;
            Look();
            double used = secondsUsed?.Invoke() ?? 0;
            if (used > _until)
            {
                throw new WorkLimitException(WorkLimit.Time);
            }

            _blockUntil = double.IsNaN(_blockUntil) ? used + LongestBlock : _blockUntil;
            if (used > _blockUntil)
            {
                throw new WorkLimitException(WorkLimit.Block);
            }
        }
    }
}
