using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes promises valid. Whether the computer has the programs and devices that they name is no question of a rig.</summary>
static class PromiseRules
{
    /// <summary>What a listener is, in words.</summary>
    public const string ListenerAllowed = "mix/ID, app/ID/PORT or device/ID/out";

    /// <summary>What a listener looks like, a regular expression.</summary>
    public const string ListenerPattern = "^(mix/[a-z0-9-]{1,40}|app/[a-z0-9-]{1,40}/[a-z0-9-]{1,40}|device/[a-z0-9-]{1,40}/out)$";

    public static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        CheckAccepted(problems, rig);
        if (rig.Promises.IsDefault || rig.Promises.Length > RigLimits.Promises)
        {
            problems.Add(new("promises", "These promises cannot be used.", $"a list of at most {RigLimits.Promises}"));
            return;
        }

        var (ids, said) = (new HashSet<PromiseId>(), new HashSet<Promise>());
        for (var p = 0; p < rig.Promises.Length; p++)
        {
            var (where, promise) = ($"promises[{p}]", rig.Promises[p]);
            if (promise is null)
            {
                problems.Add(new(where, "The promise is empty.", "a promise"));
                continue;
            }

            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", promise.Id.Value));
            if (!ids.Add(promise.Id))
            {
                problems.Add(new($"{where}.id", "This id is taken.", "an id that no other promise has"));
            }

            if (!said.Add(promise with { Id = default }))
            {
                problems.Add(new(where, "This is promised already.", "each promise once"));
            }

            Check(problems, where, promise, rig);
        }
    }

    private static void Check(ImmutableArray<RigProblem>.Builder problems, string where, Promise promise, Rig rig)
    {
        if (promise.About is { } about)
        {
            Known(problems, $"{where}.source", about, rig);
        }

        switch (promise)
        {
            case Reaches or NeverReaches or HeardOnce or InStep:
                CheckListener(problems, $"{where}.listener", promise.At, rig);
                break;
            case SpeechOverBed or LoudnessInRange or TruePeakUnder when promise.At is MixPoint mix && rig.Find(mix.Id) is null:
                problems.Add(new($"{where}.mix", $"There is no mix “{mix.Id}”.", "the id of a mix of the show") { IsReference = true });
                break;
        }

        switch (promise)
        {
            case SpeechOverBed over:
                InRange(problems, $"{where}.atLeast", over.AtLeast, 0, RigLimits.MostOver, "LU");
                foreach (var (field, id) in new[] { ("speech", over.Speech), ("bed", over.Bed) })
                {
                    if (id is { } named)
                    {
                        Known(problems, $"{where}.{field}", named, rig);
                    }
                }

                if (over.Speech is not null && over.Speech == over.Bed)
                {
                    problems.Add(new($"{where}.bed", "It cannot be louder than itself.", "another source than speech"));
                }

                break;
            case LoudnessInRange range:
                InRange(problems, $"{where}.from", range.From, RigLimits.LeastLoudness, 0, "LUFS");
                InRange(problems, $"{where}.to", range.To, RigLimits.LeastLoudness, 0, "LUFS");
                if (range.To <= range.From)
                {
                    problems.Add(new($"{where}.to", "The range is empty.", "more than from"));
                }

                break;
            case TruePeakUnder under:
                InRange(problems, $"{where}.ceiling", under.Ceiling, RigLimits.LeastCeiling, 0, "dBTP");
                break;
            case InStep step:
                InRange(problems, $"{where}.picture", step.Picture, 0, RigLimits.LatestPicture, "ms");
                InRange(problems, $"{where}.within", step.Within, RigLimits.LeastWithin, RigLimits.MostWithin, "ms");
                break;
            case StaysOnAir on when StreamsOf.Find(rig, on.Stream) is null:
                problems.Add(new($"{where}.stream", $"There is no stream “{on.Stream}”.", "the id of a stream of the show") { IsReference = true });
                break;
            case DefaultStays stays:
                if (!Enum.IsDefined(stays.Role))
                {
                    problems.Add(new($"{where}.role", "Unknown role.", string.Join(", ", Enum.GetNames<Role>())));
                }

                if (stays.End is not DevicePoint && !(stays.End is CablePoint cable && rig.Find(cable.Id) is not null))
                {
                    problems.Add(new($"{where}.end", "There is no such device or cable.", "device/ID/in, device/ID/out, or cable/ID of a cable of the show") { IsReference = true });
                }

                break;
        }
    }

    private static void CheckListener(ImmutableArray<RigProblem>.Builder problems, string where, Point? listener, Rig rig)
    {
        if (listener is not (MixPoint { Tap: Tap.AfterChain } or AppPoint or DevicePoint { Side: Side.Out }))
        {
            problems.Add(new(where, "This is no listener.", ListenerAllowed));
        }
        else if (listener is MixPoint mix && rig.Find(mix.Id) is null)
        {
            problems.Add(new(where, $"There is no mix “{mix.Id}”.", "the id of a mix of the show") { IsReference = true });
        }
    }

    private static void Known(ImmutableArray<RigProblem>.Builder problems, string where, SourceId id, Rig rig)
    {
        if (rig.Find(id) is null)
        {
            problems.Add(new(where, $"There is no source “{id}”.", "the id of a source of the show") { IsReference = true });
        }
    }

    private static void InRange(ImmutableArray<RigProblem>.Builder problems, string where, double value, double min, double max, string unit)
    {
        if (!(value >= min && value <= max))
        {
            problems.Add(new(where, string.Create(CultureInfo.InvariantCulture, $"{value:0.###} {unit} is out of range."), string.Create(CultureInfo.InvariantCulture, $"a number from {min:0.#} to {max:0.#} {unit}")));
        }
    }

    private static void CheckAccepted(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Accepted.IsDefault || rig.Accepted.Length > RigLimits.Accepted)
        {
            problems.Add(new("accepted", "These findings cannot be accepted.", $"a list of at most {RigLimits.Accepted}"));
            return;
        }

        for (var a = 0; a < rig.Accepted.Length; a++)
        {
            RigRules.AddIfAny(problems, RigRules.CheckText($"accepted[{a}].key", rig.Accepted[a]?.Key, RigLimits.FindingKey));
            RigRules.AddIfAny(problems, RigRules.CheckText($"accepted[{a}].facts", rig.Accepted[a]?.Facts, RigLimits.FindingFacts));
            if (rig.Accepted.Take(a).Any(o => o?.Key == rig.Accepted[a]?.Key))
            {
                problems.Add(new($"accepted[{a}].key", "This is accepted already.", "each finding once"));
            }
        }
    }
}
