using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear;

/// <summary>The second demo show: <em>Tide Tables</em>, an audio-only podcast with two microphones and a caller.</summary>
public static class TideTables
{
    /// <summary>The show's name.</summary>
    public const string Name = "Tide Tables";

    /// <summary>The show as it is first opened.</summary>
    public static Rig Rig()
    {
        RigCommand[] commands =
        [
            new AddMix(Mix("my-ears", "My ears", MixPurpose.MyEars)),
            new AddMix(Mix("guest-hears", "Caller hears", MixPurpose.Guest)),
            new AddMix(Mix("recording", "Recording", MixPurpose.Recording)),
            new AddSource(Source("host-mic", "Host mic", SourceKind.Microphone, 0, new DeviceInput(PracticeCatalog.Interface, 0))),
            new AddSource(Source("second-mic", "Second mic", SourceKind.Microphone, 6, new DeviceInput(PracticeCatalog.Interface, 1))),
            new AddSource(Source("guest-call", "Caller", SourceKind.Call, 2, new AppInput(PracticeCatalog.Call, "voice"))),
        ];
        return commands.Aggregate(Core.Rigs.Rig.Empty, (rig, command) => ((CommandResult.Applied)command.Apply(rig)).Rig);
    }

    private static Mix Mix(string id, string name, MixPurpose purpose) =>
        new() { Id = new(id), Name = name, Purpose = purpose, TargetLufs = NewShow.Target(purpose) };

    private static Source Source(string id, string name, SourceKind kind, int look, SourceInput input) =>
        new() { Id = new(id), Name = name, Kind = kind, Input = input, Look = new(look, look) };
}
