using Kinetra.Core.Editing;

namespace Kinetra.Server.Live;

/// <summary>
/// Which of the newest steps set each value last, and whose it was: so it is seen that a command was made on an older value.
/// One caller at a time.
/// </summary>
sealed class ChangeMarks
{
    private readonly Dictionary<string, (long Revision, string? Window)> _last = [];

    // Up to here nothing is known of the steps.
    private long _floor;
    private long _newest;

    /// <summary>Begins anew, with the steps of another show.</summary>
    public void Reset(History history)
    {
        _last.Clear();
        (_floor, _newest) = ((history.Newest.FirstOrDefault()?.Revision ?? 1) - 1, 0);
        history.Newest.ForEach(Add);
    }

    /// <summary>One step more.</summary>
    public void Add(Step step)
    {
        _newest = step.Revision;
        foreach (var target in step.Body.Targets)
        {
            _last[target] = (step.Revision, step.By.Window);
        }

        // No more than the history keeps at hand, or this would grow as long as the server runs; looked at now and then.
        if (_newest - _floor >= 2 * History.MaxNewest)
        {
            _floor = _newest - History.MaxNewest;
            foreach (var old in _last.Where(l => l.Value.Revision <= _floor).Select(l => l.Key).ToList())
            {
                _last.Remove(old);
            }
        }
    }

    /// <summary>True where nobody can tell any more what was changed since a revision.</summary>
    public bool IsForgotten(long revision) => revision < _floor;

    /// <summary>
    /// The revision at which somebody else last changed what a command sets; 0: nobody. A window's own last change of a value is no
    /// surprise to it, though its answer may still be under way.
    /// </summary>
    public long LastByOthers(RigCommand command, StepAuthor author) => _last
        .Where(c => author.Window is null || c.Value.Window != author.Window)
        .Where(c => command.Targets.Any(t => TargetKeys.Meet(t, c.Key)))
        .Select(c => c.Value.Revision).DefaultIfEmpty(0).Max();
}
