using System.Text.Json.Serialization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>What a program's output or input is set to: where it plays, or what it hears.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "type")]
[JsonDerivedType(typeof(DefaultEnd), "default")]
[JsonDerivedType(typeof(NoEnd), "nothing")]
[JsonDerivedType(typeof(ChosenEnd), "end")]
public abstract record EndChoice;

/// <summary>Whatever the computer's default is, of all sound or of calls.</summary>
/// <param name="Calls">True: that of calls.</param>
public sealed record DefaultEnd(bool Calls = false) : EndChoice;

/// <summary>Nothing.</summary>
public sealed record NoEnd : EndChoice;

/// <summary>A device or a cable.</summary>
/// <param name="End"><c>device/ID/out</c> or <c>device/ID/in</c>, as the port plays or hears, or <c>cable/ID</c>.</param>
/// <param name="Channels">Which of its channels; null: as many as the port has, from the first on.</param>
public sealed record ChosenEnd(Point End, CableChannels? Channels = null) : EndChoice;
