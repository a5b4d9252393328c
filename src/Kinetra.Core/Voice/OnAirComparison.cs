using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// With and without a chain, or one processor of it, for all who hear it, as loud. While all hear it with, what it would be without is computed aside and the difference in loudness
/// measured (<see cref="Audition"/>); without, that difference is made up for, and stays what it was. Whoever turns or changes the chain meanwhile has it heard again.
/// One thread at a time, never the engine's.
/// </summary>
public sealed class OnAirComparison : IDisposable
{
    // What is put back, or changed, has settled by then: 0.25 s.
    private const int Settled = 48 * AudioFormat.BlockFrames;

    private readonly MixEngine _engine;
    private Audition? _measuring;
    private ImmutableArray<RunningProcessor> _chain;
    private ImmutableArray<ImmutableArray<double>> _values;

    /// <summary>Begins one: all hear it with, as before.</summary>
    /// <param name="engine">The engine.</param>
    /// <param name="wish">What is compared, of kind <see cref="AuditionKind.Without"/>.</param>
    public OnAirComparison(MixEngine engine, AuditionWish wish)
    {
        ArgumentNullException.ThrowIfNull(engine);
        ArgumentNullException.ThrowIfNull(wish);
        (_engine, Wish) = (engine, wish);
        _measuring = new Audition(engine, wish);
        Note(engine.Plan);
    }

    /// <summary>What is compared.</summary>
    public AuditionWish Wish { get; }

    /// <summary>Whether all hear it without.</summary>
    public bool IsWithout { get; private set; }

    /// <summary>Whether all hear it without as soon as the difference is known.</summary>
    public bool IsWaiting { get; private set; }

    /// <summary>By how many LU it is louder with than without, which is made up for; null: not known yet.</summary>
    public double? Difference { get; private set; }

    /// <summary>True once what is compared is gone, or may not be: all hear what the show says.</summary>
    public bool IsOver { get; private set; }

    /// <summary>True where a plan has what it takes.</summary>
    public static bool FitsIn(EnginePlan plan, AuditionWish wish)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(wish);
        return wish.Kind == AuditionKind.Without && wish.FitsIn(plan) && plan.Aside(wish.Place, wish.Processor, 1) is not null;
    }

    /// <summary>Lets all hear it without, as soon as the difference is known.</summary>
    public void Without()
    {
        IsWaiting = !IsWithout && !IsOver;
        CatchUp();
    }

    /// <summary>Lets all hear it with again.</summary>
    public void With()
    {
        IsWaiting = false;
        if (IsWithout)
        {
            PutBack();
            MeasureAnew();
        }
    }

    /// <summary>Measures what has come, and does what was waited for.</summary>
    public void CatchUp()
    {
        if (IsOver)
        {
            return;
        }

        // One plan for all of it: another may begin to run at any moment, and what is set aside must be what is known to be put back.
        var plan = _engine.Plan;
        if (!FitsIn(plan, Wish))
        {
            Dispose();
            return;
        }

        if (IsChanged(plan))
        {
            With();
            Note(plan);
            Difference = null;
            MeasureAnew();
        }

        if (_measuring is null)
        {
            return;
        }

        _measuring.CatchUp();
        Difference = _measuring.Difference ?? Difference;
        if (IsWaiting && Difference is { } difference && plan.Aside(Wish.Place, Wish.Processor, (float)Math.Pow(10, Audition.MadeUp(difference) / 20)) is { } change)
        {
            _engine.Post(change);
            (IsWaiting, IsWithout) = (false, true);

            // From now on what all hear is without.
            _measuring.Dispose();
            _measuring = null;
        }
    }

    /// <summary>Ends it: all hear it with.</summary>
    public void Dispose()
    {
        if (IsWithout)
        {
            PutBack();
        }

        (IsOver, IsWaiting) = (true, false);
        _measuring?.Dispose();
        _measuring = null;
    }

    // What stood there, wherever it stands now: a slot outlives its plan.
    private void PutBack()
    {
        _engine.Post(new LevelChange.OfPutBack([.. _chain.Select(p => p.Slot)]));
        IsWithout = false;
    }

    private void MeasureAnew()
    {
        _measuring?.Dispose();
        _measuring = new Audition(_engine, Wish, _engine.Frame + Settled);
    }

    private void Note(EnginePlan plan)
    {
        _chain = plan.ChainOf(Wish.Place);
        _values = [.. _chain.Select(p => p.Values)];
    }

    private bool IsChanged(EnginePlan plan)
    {
        var chain = plan.ChainOf(Wish.Place);
        return chain.Length != _chain.Length || chain.Where((p, i) => !p.IsAs(_chain[i]) || !p.Values.SequenceEqual(_values[i])).Any();
    }
}
