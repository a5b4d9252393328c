using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Planning;

/// <summary>
/// Where Kinetra would put a source in a mix, from its kind and the mix's purpose. A proposal: the person has the last word.
/// </summary>
public static class ProposedPlace
{
    /// <summary>The send proposed for a new source.</summary>
    public static Send Of(SourceKind kind, MixPurpose purpose, SourceId source) => new()
    {
        Source = source,
        Heard = (kind, purpose) switch
        {
            // One's own voice, late in one's own ears, disturbs speaking.
            (SourceKind.Microphone, MixPurpose.MyEars) => false,

            // A caller who hears himself stops talking.
            (SourceKind.Call, MixPurpose.Guest) => false,

            // Private talk stays with the maker.
            (SourceKind.Chat, MixPurpose.MyEars) => true,
            (SourceKind.Chat, _) => false,

            // Notifications are nobody's business but the maker's.
            (SourceKind.CatchAll, MixPurpose.MyEars) => true,
            (SourceKind.CatchAll, _) => false,
            _ => true,
        },
    };
}
