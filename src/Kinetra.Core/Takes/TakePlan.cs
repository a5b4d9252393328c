using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>One track of a take that could begin now.</summary>
/// <param name="Track">The planned track; null: nothing is planned, and the take has everything.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Takes">What it takes.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="FileName">What its file is called, with its ending; no two of a take are the same.</param>
public sealed record TakeTrackPlan(TrackId? Track, string Name, Point Takes, int Channels, TakeForm Form, string FileName);

/// <summary>What a take would have, file by file, and how much room it would need.</summary>
/// <param name="Tracks">Its tracks, in order.</param>
/// <param name="IsPlanned">False: nobody planned any, and it has every mix and every source.</param>
public sealed record TakePlan(ImmutableArray<TakeTrackPlan> Tracks, bool IsPlanned)
{
    private const double SecondsAnHour = 3_600;

    /// <summary>Bytes of one hour; for what is compressed, about.</summary>
    public double BytesAnHour => Tracks.Sum(t => BytesASecond(t.Form, t.Channels) * SecondsAnHour);

    /// <summary>The same in one sentence.</summary>
    public string Sentence
    {
        get
        {
            if (Tracks.IsEmpty)
            {
                return IsPlanned ? "No planned track is armed: a take would have nothing." : "The show has nothing to record yet.";
            }

            string[] parts =
            [
                .. Part(Tracks.Count(t => t.Takes is SourcePoint), "source apart", "sources apart"),
                .. Part(Tracks.Count(t => t.Takes is MixPoint), IsPlanned ? "blend" : "mix", IsPlanned ? "blends" : "mixes"),
                .. Part(Tracks.Count(t => t.Takes is CablePoint), "cable", "cables"),
                .. Part(Tracks.Count(t => t.Takes is AppPoint), "program’s hearing", "programs’ hearing"),
            ];
            return $"{Tracks.Length} {(Tracks.Length == 1 ? "track" : "tracks")}: {string.Join(", ", parts)}; {Size(BytesAnHour)} an hour {Forms()}";
        }
    }

    /// <summary>The take that a show would have now.</summary>
    /// <param name="rig">The show.</param>
    /// <param name="channelsOf">How many channels a point gives now; 0: it is not there.</param>
    public static TakePlan Of(Rig rig, Func<Point, int> channelsOf)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(channelsOf);
        var names = new FileNames();
        if (rig.Tracks.IsEmpty)
        {
            Point[] all = [.. rig.Mixes.Select(m => (Point)new MixPoint(m.Id)), .. rig.Sources.Select(s => new SourcePoint(s.Id))];
            return new(
                [.. all.Where(p => channelsOf(p) > 0).Select((p, i) => new TakeTrackPlan(null, rig.NameOf(p), p, Math.Min(2, channelsOf(p)), rig.Recording.Form, names.Of(i, rig.NameOf(p), null, rig.Recording.Form)))],
                false);
        }

        // What is not there now may come: it has its place, and silence until then.
        return new(
            [
                .. rig.Tracks.Where(t => t.Armed).Select((t, i) => new TakeTrackPlan(
                    t.Id, t.Name, t.Takes, Channels(t.Width, channelsOf(t.Takes)), t.Form ?? rig.Recording.Form, names.Of(i, t.Name, t.FileName, t.Form ?? rig.Recording.Form))),
            ],
            true);
    }

    /// <summary>Bytes in words: 310 MB, 1.3 GB.</summary>
    public static string Size(double bytes) => bytes switch
    {
        < 1e6 => string.Create(CultureInfo.InvariantCulture, $"{Math.Ceiling(bytes / 1e3):0} kB"),
        < 1e9 => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e6:0} MB"),
        < 1e12 => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e9:0.0} GB"),
        _ => string.Create(CultureInfo.InvariantCulture, $"{bytes / 1e12:0.0} TB"),
    };

    /// <summary>How long the room that there is lasts, in words.</summary>
    /// <param name="free">Bytes.</param>
    /// <param name="bytesAnHour">How much an hour needs.</param>
    public static string Room(long free, double bytesAnHour)
    {
        var hours = bytesAnHour > 0 ? free / bytesAnHour : double.PositiveInfinity;
        var lasts = hours switch
        {
            double.PositiveInfinity => null,
            < 1.0 / 60 => "less than a minute",
            < 1 => $"{(int)(hours * 60)} {((int)(hours * 60) == 1 ? "minute" : "minutes")}",
            < 2 => string.Create(CultureInfo.InvariantCulture, $"{(int)hours} h {(int)(hours % 1 * 60)} min"),
            < 1_000 => $"{(int)hours} hours",
            _ => "more than a thousand hours",
        };
        return lasts is null ? $"{Size(free)} free." : $"{Size(free)} free: enough for {lasts}.";
    }

    /// <summary>Bytes of a second of one track; of what is compressed, what speech and music take, about.</summary>
    public static double BytesASecond(TakeForm form, int channels) => form switch
    {
        TakeForm.Wav24 => channels * AudioFormat.SampleRate * 3.0,
        TakeForm.Wav16 => channels * AudioFormat.SampleRate * 2.0,
        TakeForm.Wav32 => channels * AudioFormat.SampleRate * 4.0,
        TakeForm.Flac => channels * AudioFormat.SampleRate * 3.0 * 0.6,
        TakeForm.Mp3 => channels * 12_000.0,
        TakeForm.Opus => channels * 8_000.0,
        _ => throw new ArgumentOutOfRangeException(nameof(form)),
    };

    private static int Channels(TrackWidth width, int own) => width switch
    {
        TrackWidth.Mono => 1,
        TrackWidth.Stereo => 2,
        _ => own == 1 ? 1 : 2,
    };

    private static IEnumerable<string> Part(int count, string one, string many) => count == 0 ? [] : [$"{count} {(count == 1 ? one : many)}"];

    private string Forms()
    {
        TakeForm[] forms = [.. Tracks.Select(t => t.Form).Distinct()];
        return forms is [TakeForm.Wav24] ? "at 24 bit" : $"as {string.Join(" and ", forms.Select(TrackWords.Of))}";
    }

    // Names of files, no two the same on whatever file system.
    private sealed class FileNames
    {
        private readonly HashSet<string> _taken = new(StringComparer.OrdinalIgnoreCase);

        public string Of(int index, string name, string? chosen, TakeForm form)
        {
            var ending = TakeNames.EndingOf(form);
            var stem = chosen ?? string.Create(CultureInfo.InvariantCulture, $"{index + 1:00} {TakeNames.SafeName(name)}");
            var free = stem + ending;
            for (var n = 2; !_taken.Add(free); n++)
            {
                free = $"{stem} {n}{ending}";
            }

            return free;
        }
    }
}
