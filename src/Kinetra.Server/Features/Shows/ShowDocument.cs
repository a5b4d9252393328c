using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Data;

namespace Kinetra.Server.Features.Shows;

/// <summary>The live show, as the API gives it.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">Its name.</param>
/// <param name="Revision">Counts its commands; a change says on which revision it was made.</param>
/// <param name="Sources">What sounds.</param>
/// <param name="Mixes">Who hears what.</param>
public sealed record ShowDocument(Guid Id, string Name, long Revision, ImmutableArray<Source> Sources, ImmutableArray<Mix> Mixes)
{
    /// <summary>The document of a stored show.</summary>
    public static ShowDocument Of(StoredShow show)
    {
        ArgumentNullException.ThrowIfNull(show);
        return new(show.Id, show.Name, show.Revision, show.Rig.Sources, show.Rig.Mixes);
    }
}
