using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Live;

/// <summary>Knows of inputs of some kind whether they are away. Any thread.</summary>
public interface IAbsence
{
    /// <summary>Why an input gives nothing now, in words; null: it is there, or of another kind.</summary>
    string? WhyAway(SourceInput input);
}

/// <summary>Says of the live show's sources why they give nothing. Any thread.</summary>
public sealed class Absences(LiveShow live, IServiceProvider services)
{
    // Asked for when it is used first: those who know are made of what is made of those who ask.
    private readonly Lazy<IAbsence[]> _kinds = new(() => [.. services.GetServices<IAbsence>()]);

    /// <summary>Why what sounds at a point is away, in words; null: it is not, or it is no source.</summary>
    public string? WhyAway(Point? point)
    {
        if (point is not SourcePoint source || live.Show.Rig.Find(source.Id) is not { } found)
        {
            return null;
        }

        foreach (var kind in _kinds.Value)
        {
            if (kind.WhyAway(found.Input) is { } words)
            {
                return words;
            }
        }

        return null;
    }
}
