using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Voice;

/// <summary>Hears when what is compared on air changes.</summary>
public interface IOnAirAudience
{
    /// <summary>It has begun, ended, gone over or been measured.</summary>
    void OnAirChanged();
}

/// <summary>A chain, or a processor of it, that is compared on air: all who hear it hear it with, or without.</summary>
/// <param name="Show">The show.</param>
/// <param name="Place">The point that the chain leads to.</param>
/// <param name="Processor">Which processor; null: the whole chain.</param>
/// <param name="IsWithout">Whether all hear it without.</param>
/// <param name="IsWaiting">Whether all hear it without as soon as the difference is measured.</param>
/// <param name="Difference">By how many LU it is louder with than without, which is made up for; null: not known yet.</param>
public sealed record OnAirDocument(Guid Show, Point Place, ProcessorId? Processor, bool IsWithout, bool IsWaiting, double? Difference);

/// <summary>
/// With and without on air: one comparison at a time in the live show, of whoever began it last. It ends with the window that began it, and is no part of the show: a server
/// that starts again plays what the show says.
/// </summary>
public sealed class OnAir(Lazy<EngineHost> engine, LiveShow live, IOnAirAudience audience) : IFollower, IDisposable
{
    private readonly Lock _comparing = new();
    private OnAirComparison? _now;
    private Guid _show;
    private string _by = "";
    private OnAirDocument? _told;

    /// <summary>What is compared now; null: nothing.</summary>
    public OnAirDocument? Now
    {
        get
        {
            lock (_comparing)
            {
                return _told;
            }
        }
    }

    /// <summary>Compares on air from now on: lets all hear it with, or without as soon as the difference is measured.</summary>
    /// <param name="show">The show that is looked at.</param>
    /// <param name="window">Whose comparison it is.</param>
    /// <param name="place">The point that the chain leads to: of a source or a mix, after its chain.</param>
    /// <param name="processor">Which processor; null: the whole chain.</param>
    /// <param name="without">Whether all are to hear it without.</param>
    /// <returns>What is against it; null: nothing.</returns>
    public RigProblem? Compare(Guid show, string window, Point place, ProcessorId? processor, bool without)
    {
        lock (_comparing)
        {
            if (!engine.Value.IsRunning || live.State.Show.Id != show)
            {
                return new RigProblem("show", "This show is not live.", "the live show");
            }

            var wish = new AuditionWish(place, AuditionKind.Without, processor);
            if (_now is null or { IsOver: true } || _now.Wish != wish)
            {
                if (!OnAirComparison.FitsIn(engine.Value.Engine.Plan, wish))
                {
                    return new RigProblem("place", "This cannot be compared on air: it has no such chain, or stands in a circle, in which what is louder could howl.", "a source or a mix with a chain, outside of circles");
                }

                _now?.Dispose();
                _now = new OnAirComparison(engine.Value.Engine, wish);
            }

            (_show, _by) = (show, window);
            if (without)
            {
                _now.Without();
            }
            else
            {
                _now.With();
            }
        }

        Tell();
        return null;
    }

    /// <summary>Ends what a window compares: all hear what the show says. Null: whoever's it is.</summary>
    public void End(string? window = null)
    {
        lock (_comparing)
        {
            if (_now is null || (window is not null && window != _by))
            {
                return;
            }

            _now.Dispose();
        }

        Tell();
    }

    /// <inheritdoc/>
    public void CatchUp()
    {
        lock (_comparing)
        {
            if (_now is null)
            {
                return;
            }

            if (live.State.Show.Id != _show)
            {
                _now.Dispose();
            }

            _now.CatchUp();
        }

        Tell();
    }

    /// <inheritdoc/>
    public void Dispose() => End();

    // A tenth of a unit is told.
    private void Tell()
    {
        lock (_comparing)
        {
            _now = _now is { IsOver: true } ? null : _now;
            var now = _now is null ? null : new OnAirDocument(_show, _now.Wish.Place, _now.Wish.Processor, _now.IsWithout, _now.IsWaiting, _now.Difference is { } found ? Math.Round(found, 1) : null);
            if (now == _told)
            {
                return;
            }

            _told = now;
        }

        audience.OnAirChanged();
    }
}
