using Kinetra.Core.Editing;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Hands;

/// <summary>Who does something.</summary>
/// <param name="Id">What it is told apart by: what it holds ends with it.</param>
/// <param name="Words">What it is called where it holds something.</param>
/// <param name="By">Whose a step of the show is.</param>
public sealed record Hand(string Id, string Words, StepAuthor By)
{
    /// <summary>Messages of Open Sound Control.</summary>
    public static readonly Hand Messages = new("messages", "a message", new StepAuthor(Name: "A message"));

    /// <summary>Commands over HTTP.</summary>
    public static readonly Hand Commands = new("commands", "a command", new StepAuthor(Name: "A command"));

    /// <summary>Whose commands are: its previews end with them.</summary>
    public Author Author => new($"hand {Id}", By);
}

/// <summary>Hears what hands do.</summary>
public interface IHandAudience
{
    /// <summary>Something is held that was not, or the other way round; or a way for hands is another.</summary>
    void HandsChanged();

    /// <summary>Somebody moves a send: this is what is heard now.</summary>
    void SendMoved(SetSend send);
}
