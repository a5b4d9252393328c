using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What a default is the default for.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Role>))]
public enum Role
{
    /// <summary>Where sound plays.</summary>
    Playback,

    /// <summary>What is recorded.</summary>
    Recording,

    /// <summary>Where calls play.</summary>
    CallsPlayback,

    /// <summary>What calls take.</summary>
    CallsRecording,
}

/// <summary>What a show wants a default to be.</summary>
/// <param name="Role">Which default.</param>
/// <param name="End">A device or a cable.</param>
public sealed record RoleWish(Role Role, Point End);

/// <summary>What a show wants a program's output or input to be set to.</summary>
/// <param name="App">The program.</param>
/// <param name="Port">Which of its outputs and inputs.</param>
/// <param name="Choice">What it should be set to.</param>
public sealed record PortWish(AppId App, string Port, EndChoice Choice);

/// <summary>What a show wants of the computer around it.</summary>
public sealed record Wishes
{
    /// <summary>Nothing.</summary>
    public static readonly Wishes None = new();

    /// <summary>Defaults, each role at most once.</summary>
    public ImmutableArray<RoleWish> Roles { get; init; } = [];

    /// <summary>Programs' choices, each port at most once; at most <see cref="RigLimits.PortWishes"/>.</summary>
    public ImmutableArray<PortWish> Ports { get; init; } = [];

    /// <summary>True: what is not so is set without asking.</summary>
    public bool Always { get; init; }

    /// <summary>True: when the show is left, what stood before it was opened is put back without asking.</summary>
    public bool PutBack { get; init; }

    /// <summary>What is wished of a role, or null.</summary>
    public RoleWish? Find(Role role)
    {
        foreach (var wish in Roles)
        {
            if (wish.Role == role)
            {
                return wish;
            }
        }

        return null;
    }

    /// <summary>What is wished of a port, or null.</summary>
    public PortWish? Find(AppId app, string port)
    {
        foreach (var wish in Ports)
        {
            if (wish.App == app && wish.Port == port)
            {
                return wish;
            }
        }

        return null;
    }
}
