using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>Changes one source's level in one mix. What is null stays as it is.</summary>
public sealed record SetSend(MixId Mix, SourceId Source, Gain? Gain = null, bool? Heard = null, bool? Muted = null, double? Pan = null, Tap? Tap = null) : RigCommand
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<string> Targets => TargetKeys.Of(
        $"send/{Mix}/{Source}", (Gain is not null, "gain"), (Heard is not null, "heard"), (Muted is not null, "muted"), (Pan is not null, "pan"), (Tap is not null, "tap"));

    /// <inheritdoc/>
    [JsonIgnore]
    public override ImmutableArray<LevelEdit>? Levels =>
        Tap is null ? [new LevelEdit(new SendPoint(Mix, Source), new MixPoint(Mix, Signal.Tap.Raw))] : null;

    /// <inheritdoc/>
    private protected override ImmutableArray<RigProblem> Check(Rig rig)
    {
        // What is heard again may hear a key of its own.
        if (Tap is not null || Heard == true)
        {
            return base.Check(rig);
        }

        var problems = ImmutableArray.CreateBuilder<RigProblem>();
        var mix = rig.Find(Mix)!;
        for (var s = 0; s < mix.Sends.Length; s++)
        {
            if (mix.Sends[s].Source == Source)
            {
                RigRules.CheckSend(problems, $"mixes[{rig.Mixes.IndexOf(mix)}].sends[{s}]", mix.Sends[s]);
            }
        }

        return problems.ToImmutable();
    }

    /// <inheritdoc/>
    protected override CommandResult Change(Rig rig)
    {
        if (rig.Find(Mix) is not { } mix)
        {
            return Unknown("mix", $"There is no mix “{Mix}”.");
        }

        if (rig.Find(Mix, Source) is not { } old || rig.Find(Source) is not { } source)
        {
            return Unknown("source", $"There is no source “{Source}”.");
        }

        var send = old with { Gain = Gain ?? old.Gain, Heard = Heard ?? old.Heard, Muted = Muted ?? old.Muted, Pan = Pan ?? old.Pan, Tap = Tap ?? old.Tap };
        var inverse = new SetSend(
            Mix,
            Source,
            Gain is null ? null : old.Gain,
            Heard is null ? null : old.Heard,
            Muted is null ? null : old.Muted,
            Pan is null ? null : old.Pan,
            Tap is null ? null : old.Tap);
        return new CommandResult.Applied(rig.With(Mix, send), inverse, $"{source.Name} in {mix.Name} {Sentences.Of(old, send)}", send == old);
    }
}
