using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>What Kinetra would begin with: a show without sources, and mixes for the listeners that most shows have.</summary>
public static class NewShow
{
    /// <summary>The rig of a new show.</summary>
    public static Rig Rig() => new()
    {
        Mixes =
        [
            Mix("My ears", MixPurpose.MyEars),
            Mix("Viewers", MixPurpose.Viewers),
            Mix("Guest hears", MixPurpose.Guest),
            Mix("Recording", MixPurpose.Recording),
        ],
    };

    /// <summary>The loudness that a listener of that kind would usually get, LUFS.</summary>
    public static double Target(MixPurpose purpose) => purpose switch
    {
        MixPurpose.Viewers => -16,
        MixPurpose.Recording => -18,
        _ => -20,
    };

    private static Mix Mix(string name, MixPurpose purpose) => new() { Id = MixId.New(), Name = name, Purpose = purpose, TargetLufs = Target(purpose) };
}
