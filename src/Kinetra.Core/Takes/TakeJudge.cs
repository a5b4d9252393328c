using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Metering;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>What is known of a track when a take is judged.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Takes">What it took; null: that is not known.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="IsVoice">True: somebody should be heard on it.</param>
/// <param name="Content">What is in its file; null: that cannot be read.</param>
/// <param name="Fault">Why its file cannot be read.</param>
/// <param name="Given">Second by second, what the engine gave; none: that is not known.</param>
/// <param name="Gaps">When what it took was away, and why.</param>
/// <param name="LostFrames">Frames that were lost while it was recorded, and are silence.</param>
/// <param name="Clipped">Samples beyond full scale while it was recorded.</param>
public sealed record TrackEvidence(
    string Name,
    Point? Takes,
    TakeForm Form,
    bool IsVoice,
    TrackContent? Content,
    string? Fault,
    ImmutableArray<SecondPrint> Given,
    ImmutableArray<(TakeSpan When, string Why)> Gaps,
    long LostFrames = 0,
    long Clipped = 0);

/// <summary>
/// Judges a take by what is in its files: that each track has its own sound and only that, whole, and as long as the others. What a file without loss has is compared
/// with what the engine gave sample by sample; what is on it of other sources is found in the samples (<see cref="Hearing"/>).
/// </summary>
public static class TakeJudge
{
    /// <summary>What is on a track of another source, from this gain on, is a fault: softer, it may be two microphones in one room. dB.</summary>
    public const double Beside = -12;

    // What is softer than this is not said: dB.
    private const double Unheard = -40;

    // An encoder with loss adds some of its frames before and behind.
    private const long LossySlack = 4_800;
    private const double LossyDecibels = 6;
    private const float LossyAudible = 1e-5f;

    // A voice that is silent for so long at the end, or of whatever length for the whole of it, is told as a fault.
    private const long SilentEnd = 30L * AudioFormat.SampleRate;

    // What is on one of two as much louder as it is softer on the other is one sound: by what two microphones pick up of each other's, it would be softer on both. dB.
    private const double OneSound = 3;

    // A twentieth of a second of an excerpt, and the energy from which on it sounds: −60 dBFS.
    private const int Piece = HeardSound.Rate / 20;
    private const double PieceSounds = Piece * 1e-6;

    // So many seconds that sound say that two are the same.
    private const int EnoughAlike = 2;

    /// <summary>The verdict.</summary>
    /// <param name="frames">How long the take is.</param>
    /// <param name="tracks">All its tracks, in order.</param>
    /// <param name="cancel">Gives up.</param>
    public static TakeVerdict Of(long frames, ImmutableArray<TrackEvidence> tracks, CancellationToken cancel = default)
    {
        var remarks = tracks.Select(_ => ImmutableArray.CreateBuilder<TrackRemark>()).ToArray();
        var exact = new long[tracks.Length];
        var foreign = new bool[tracks.Length];
        for (var t = 0; t < tracks.Length; t++)
        {
            exact[t] = OfFile(frames, tracks, t, remarks[t], out foreign[t]);
        }

        Alike(tracks, remarks, foreign);
        Beneath(tracks, remarks, foreign, cancel);
        ImmutableArray<TrackVerdict> verdicts =
        [
            .. tracks.Select((t, i) => new TrackVerdict(
                i + 1, t.Name, remarks[i].ToImmutable(), t.Content is { Peak: > 0 } content ? Math.Round(Level.FromPeak(content.Peak), 1) : null, exact[i])),
        ];
        return new(Sentence(frames, tracks, verdicts), verdicts);
    }

    private static long OfFile(long frames, ImmutableArray<TrackEvidence> tracks, int t, ImmutableArray<TrackRemark>.Builder remarks, out bool isForeign)
    {
        var track = tracks[t];
        isForeign = false;
        if (track.Content is not { } content)
        {
            remarks.Add(new(true, $"Its file cannot be read: {track.Fault}."));
            return 0;
        }

        var slack = track.Form is TakeForm.Mp3 or TakeForm.Opus ? LossySlack : 0;
        if (Math.Abs(content.Frames - frames) > slack)
        {
            remarks.Add(new(true, $"Its file has {Length(content.Frames)} of {Length(frames)}.", Seconds(Math.Min(content.Frames, frames))));
        }

        var same = Printing.IsExact(track.Form) ? Exactly(tracks, t, remarks, ref isForeign) : 0;
        if (!Printing.IsExact(track.Form))
        {
            Roughly(track, content, remarks);
        }

        foreach (var (when, why) in track.Gaps)
        {
            remarks.Add(new(false, $"Silent at {Clock(when.Start)} for {Length(when.Frames)}: {why}.", Seconds(when.Start)));
        }

        if (track.LostFrames > 0)
        {
            remarks.Add(new(true, $"{Length(track.LostFrames)} were lost while it was recorded, and are silence."));
        }

        Silence(frames, track, content, remarks);
        if (track.Clipped > 0 || content.Clips > 0)
        {
            var times = content.Clips > 0 ? $"{content.Clips} {(content.Clips == 1 ? "time" : "times")}, first at {Clock(content.FirstClip)}" : $"{track.Clipped} {(track.Clipped == 1 ? "sample" : "samples")}";
            remarks.Add(new(true, $"It is clipped: {times}.", content.FirstClip < 0 ? null : Seconds(content.FirstClip)));
        }

        return same;
    }

    // Sample by sample, where the form has no loss.
    private static long Exactly(ImmutableArray<TrackEvidence> tracks, int t, ImmutableArray<TrackRemark>.Builder remarks, ref bool isForeign)
    {
        var (given, content) = (tracks[t].Given, tracks[t].Content!);
        var compared = content.Seconds.Where(s => s.Key < given.Length && given[(int)s.Key].IsKnown).ToList();
        var other = compared.Where(s => s.Value.Hash != given[(int)s.Key].Hash).Select(s => s.Key).Order().ToList();
        if (other.Count == 0)
        {
            return compared.Count;
        }

        // Whose sound is it then?
        var sounding = other.Where(s => content.Seconds[s].Sounds).ToList();
        for (var o = 0; o < tracks.Length && sounding.Count > 0; o++)
        {
            var theirs = tracks[o].Given;
            if (o != t && tracks[o].Form == tracks[t].Form && sounding.Count(s => s < theirs.Length && theirs[(int)s].Hash == content.Seconds[s].Hash) * 10 > sounding.Count * 9)
            {
                isForeign = true;
                remarks.Add(new(true, $"Its file has the sound of {tracks[o].Name}."));
                return compared.Count - other.Count;
            }
        }

        foreach (var (first, last) in Runs(other))
        {
            var isSilent = Enumerable.Range(0, (int)(last - first + 1)).All(n => !content.Seconds[first + n].Sounds && given[(int)(first + n)].Sounds);
            var when = last == first ? $"At {Clock(first * Printing.Second)}" : $"From {Clock(first * Printing.Second)} to {Clock((last + 1) * Printing.Second)}";
            remarks.Add(new(true, isSilent ? $"{when} it is silent, though what it took sounded." : $"{when} it is not what the engine gave.", first));
        }

        return compared.Count - other.Count;
    }

    // Only as loud, where it has loss: within what stands beside it, since what begins and ends may come a little later.
    private static void Roughly(TrackEvidence track, TrackContent content, ImmutableArray<TrackRemark>.Builder remarks)
    {
        var wrong = new List<long>();
        var factor = MathF.Pow(10, (float)LossyDecibels / 10);
        for (var s = 0; s < Math.Min(content.Own.Length, track.Given.Length); s++)
        {
            float least = float.MaxValue, most = 0;
            var isKnown = true;
            for (var n = Math.Max(0, s - 1); n <= Math.Min(track.Given.Length - 1, s + 1); n++)
            {
                least = MathF.Min(least, track.Given[n].MeanSquare);
                most = MathF.Max(most, track.Given[n].MeanSquare);
                isKnown &= track.Given[n].IsKnown;
            }

            var has = content.Own[s].MeanSquare;
            if (isKnown && (has * factor < least || has > most * factor) && MathF.Max(has, least) > LossyAudible)
            {
                wrong.Add(s);
            }
        }

        foreach (var (first, last) in Runs(wrong))
        {
            remarks.Add(new(true, $"From {Clock(first * Printing.Second)} to {Clock((last + 1) * Printing.Second)} it is not as loud as what the engine gave.", first));
        }
    }

    private static void Silence(long frames, TrackEvidence track, TrackContent content, ImmutableArray<TrackRemark>.Builder remarks)
    {
        // What is told already is not told twice.
        bool IsTold(TakeSpan span) => track.Gaps.Any(g => g.When.Start <= span.Start + Printing.Second && g.When.End >= span.End - Printing.Second);

        if (content.Silences is [.., var last] && last.End >= content.Frames && !IsTold(last) && content.Frames > 0)
        {
            if (last.Start == 0)
            {
                remarks.Add(new(track.IsVoice, $"{track.Name} is silent throughout."));
            }
            else if (last.Frames >= SilentEnd)
            {
                remarks.Add(new(track.IsVoice && last.Frames * 10 >= frames, $"{track.Name} is silent from {Clock(last.Start)} on.", Seconds(last.Start)));
            }
        }
    }

    // Two tracks that took different things, and got the same.
    private static void Alike(ImmutableArray<TrackEvidence> tracks, ImmutableArray<TrackRemark>.Builder[] remarks, bool[] foreign)
    {
        var isTold = foreign.ToArray();
        for (var t = 0; t < tracks.Length; t++)
        {
            for (var o = 0; o < t; o++)
            {
                if (isTold[t] || isTold[o] || tracks[t].Takes == tracks[o].Takes || IsSameSource(tracks[t], tracks[o]) || Prints(tracks[t]) is not { } one || Prints(tracks[o]) is not { } two)
                {
                    continue;
                }

                var sounding = one.Where(s => s.Value.Sounds && two.ContainsKey(s.Key)).ToList();
                if (sounding.Count >= EnoughAlike && sounding.Count(s => two[s.Key].Hash == s.Value.Hash) * 10 > sounding.Count * 9)
                {
                    // A blend of one source alone is no fault.
                    var isFault = tracks[t].Takes is SourcePoint && tracks[o].Takes is SourcePoint;
                    remarks[t].Add(new(isFault, $"It has the same sound as {tracks[o].Name}."));
                    remarks[o].Add(new(isFault, $"It has the same sound as {tracks[t].Name}."));
                    (foreign[t], foreign[o]) = (true, true);
                }
            }
        }

        static ImmutableDictionary<long, SecondPrint>? Prints(TrackEvidence track) => Printing.IsExact(track.Form) ? track.Content?.Seconds : null;
    }

    // What of other sources can be heard on a track of one source.
    private static void Beneath(ImmutableArray<TrackEvidence> tracks, ImmutableArray<TrackRemark>.Builder[] remarks, bool[] foreign, CancellationToken cancel)
    {
        var sources = Enumerable.Range(0, tracks.Length).Where(t => tracks[t] is { Takes: SourcePoint, Content: not null } && !foreign[t]).ToList();
        var looks = sources.Select(t => tracks[t].Content!.Excerpts.Length).DefaultIfEmpty(0).Min();
        if (sources.Count < 2)
        {
            return;
        }

        var hearing = new Hearing();
        var heard = new Dictionary<int, HeardAt>();
        for (var look = 0; look < looks; look++)
        {
            foreach (var t in sources)
            {
                cancel.ThrowIfCancellationRequested();
                var others = sources.Where(o => !IsSameSource(tracks[t], tracks[o])).ToList();
                hearing.Know([.. others.SelectMany(o => tracks[o].Content!.Excerpts[look].Select(samples => new Reference(o, samples)))]);
                var found = new HeardAt(hearing.Listen(tracks[t].Content!.Excerpts[look].AsSpan())
                    .ToImmutableDictionary(h => new SourceId($"track-{h.Source}"), h => h with { Frame = (look + 1) * TrackReading.ExcerptFrames }));
                heard[t] = heard.TryGetValue(t, out var before) ? before.And(found) : found;
            }
        }

        HeardSource? On(int track, int other) => heard.GetValueOrDefault(track)?.Sources.GetValueOrDefault(new SourceId($"track-{other}"));

        foreach (var t in heard.Keys)
        {
            foreach (var o in sources)
            {
                if (On(t, o) is not { Arrivals: [var first, ..] } found || first.GainDecibels < Unheard)
                {
                    continue;
                }

                if (On(o, t) is { Arrivals: [var back, ..] } && Math.Abs(first.GainDecibels + back.GainDecibels) <= OneSound)
                {
                    var louder = Math.Abs(first.GainDecibels) < 0.5 ? "" : string.Create(CultureInfo.InvariantCulture, $", {Math.Abs(first.GainDecibels):0} dB {(first.GainDecibels > 0 ? "louder" : "softer")}");
                    remarks[t].Add(new(true, $"It has the same sound as {tracks[o].Name}{louder}."));
                }
                else if (found.Times >= ByHearing.SureOfPickedUp && Carries(tracks[t].Content!, tracks[o].Content!, first))
                {
                    var softer = first.GainDecibels > -1 ? "as loud as on its own" : string.Create(CultureInfo.InvariantCulture, $"about {-first.GainDecibels:0} dB softer than on its own");
                    remarks[t].Add(first.GainDecibels >= Beside
                        ? new(true, $"{tracks[o].Name} is on it too, {softer}.")
                        : new(false, $"{tracks[o].Name} can be heard on it, {softer}."));
                }
            }
        }
    }

    // Where one is on another, that is never much softer than what should be of it: where it is, it was the other way round.
    private static bool Carries(TrackContent listener, TrackContent source, HeardArrival arrival)
    {
        var (sounds, missing) = (0, 0);
        var late = (int)Math.Round(arrival.DelayMilliseconds * HeardSound.Rate / 1_000);
        var gain = Math.Pow(10, arrival.GainDecibels / 10);
        for (var look = 0; look < Math.Min(listener.Excerpts.Length, source.Excerpts.Length); look++)
        {
            for (var at = 0; at + late + Piece <= HeardSound.Kept; at += Piece)
            {
                var should = gain * Energy(source.Excerpts[look], at);
                if (should > PieceSounds)
                {
                    sounds++;
                    missing += Energy(listener.Excerpts[look], at + late) < should / 10 ? 1 : 0;
                }
            }
        }

        return missing * 10 <= sounds;

        static double Energy(ImmutableArray<float[]> channels, int at) => channels.Sum(c => (double)System.Numerics.Tensors.TensorPrimitives.SumOfSquares(c.AsSpan(at, Piece)));
    }

    private static bool IsSameSource(TrackEvidence one, TrackEvidence other) => one.Takes is SourcePoint a && other.Takes is SourcePoint b && a.Id == b.Id;

    private static string Sentence(long frames, ImmutableArray<TrackEvidence> tracks, ImmutableArray<TrackVerdict> verdicts)
    {
        var wrong = verdicts.Where(v => v.Standing == TakeStanding.Wrong).ToList();
        var remarked = verdicts.Where(v => v.Standing == TakeStanding.Remarks).ToList();
        var exact = tracks.Length > 0 && verdicts.Zip(tracks).All(v => Printing.IsExact(v.Second.Form) && !v.Second.Given.IsEmpty);
        if (wrong.Count + remarked.Count == 0 && tracks.All(t => t.Given.IsEmpty))
        {
            return $"{(tracks.Length == 1 ? "The track was" : $"All {tracks.Length} tracks were")} read to the end, {Length(frames)} each. What the engine gave is not known, so the files alone were judged.";
        }

        var all = tracks.Length == 1 ? "The track is what its name says" : $"All {tracks.Length} tracks are what their names say";
        var how = exact ? $", sample by sample what the engine gave, {Length(frames)} each" : $", {Length(frames)} each";
        return (wrong, remarked) switch
        {
            ({ Count: 0 }, { Count: 0 }) => $"{all}{how}, and nothing was lost.",
            ({ Count: 0 }, [var one]) => $"{all}{how}. {one.Name}: {one.Remarks[0].Words}",
            ({ Count: 0 }, _) => $"{all}{how}. There is something to know about {remarked.Count} of them.",
            ([var one], _) => $"{(tracks.Length == 1 ? "The track" : $"1 of {tracks.Length} tracks")} is not what it should be. {one.Name}: {one.Remarks.First(r => r.IsFault).Words}",
            _ => $"{wrong.Count} of {tracks.Length} tracks are not what they should be. {wrong[0].Name}: {wrong[0].Remarks.First(r => r.IsFault).Words}",
        };
    }

    private static IEnumerable<(long First, long Last)> Runs(List<long> seconds)
    {
        for (var i = 0; i < seconds.Count;)
        {
            var first = i;
            while (i + 1 < seconds.Count && seconds[i + 1] == seconds[i] + 1)
            {
                i++;
            }

            yield return (seconds[first], seconds[i++]);
        }
    }

    private static double Seconds(long frames) => (double)frames / AudioFormat.SampleRate;

    /// <summary>A moment of a take: 12:04, 1:02:03.</summary>
    internal static string Clock(long frame)
    {
        var seconds = frame / AudioFormat.SampleRate;
        return seconds >= 3_600
            ? string.Create(CultureInfo.InvariantCulture, $"{seconds / 3_600}:{seconds / 60 % 60:00}:{seconds % 60:00}")
            : string.Create(CultureInfo.InvariantCulture, $"{seconds / 60:00}:{seconds % 60:00}");
    }

    // Short ones to the millisecond.
    private static string Length(long frames) =>
        frames < 60L * AudioFormat.SampleRate ? string.Create(CultureInfo.InvariantCulture, $"{Seconds(frames):0.000} s") : Clock(frames);
}
