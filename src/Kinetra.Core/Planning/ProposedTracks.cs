using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>The tracks that a show would have if nobody planned any: one blend of all, and every source apart.</summary>
public static class ProposedTracks
{
    private const string BlendName = "Blend";

    /// <summary>
    /// The plan. First the blend, since an ordinary player plays the first track: the mix that is made to be kept, or else the one that the
    /// audience hears, or the first. Then voices, then what else sounds, each in the order of the show.
    /// </summary>
    /// <param name="rig">The show.</param>
    public static ImmutableArray<PlannedTrack> Of(Rig rig)
    {
        ArgumentNullException.ThrowIfNull(rig);
        var tracks = ImmutableArray.CreateBuilder<PlannedTrack>();
        HashSet<string> names = new(StringComparer.OrdinalIgnoreCase);
        if (Blend(rig) is { } blend)
        {
            var isTaken = rig.Sources.Any(s => string.Equals(s.Name, BlendName, StringComparison.OrdinalIgnoreCase));
            Add(isTaken ? blend.Name : BlendName, new MixPoint(blend.Id));
        }

        foreach (var source in rig.Sources.OrderBy(s => IsVoice(s.Kind) ? 0 : 1))
        {
            Add(source.Name, new SourcePoint(source.Id));
        }

        return tracks.ToImmutable();

        void Add(string name, Point takes)
        {
            var free = name;
            for (var n = 2; !names.Add(free); n++)
            {
                // Never beyond what a name may have.
                var number = $" {n}";
                free = name[..Math.Min(name.Length, RigLimits.NameLength - number.Length)].TrimEnd() + number;
            }

            tracks.Add(new PlannedTrack(TrackId.New(), free, takes));
        }
    }

    private static Mix? Blend(Rig rig) =>
        rig.Mixes.FirstOrDefault(m => m.Purpose == MixPurpose.Recording) ?? rig.Mixes.FirstOrDefault(m => m.Purpose == MixPurpose.Viewers) ?? rig.Mixes.FirstOrDefault();

    private static bool IsVoice(SourceKind kind) => kind is SourceKind.Microphone or SourceKind.Call or SourceKind.Chat;
}
