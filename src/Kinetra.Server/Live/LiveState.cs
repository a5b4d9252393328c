using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Routing;
using Kinetra.Data;

namespace Kinetra.Server.Live;

/// <summary>The live show at one moment.</summary>
/// <param name="Sequence">Counts all that has become of what is live, across shows and starts: it only grows.</param>
/// <param name="Show">The show.</param>
/// <param name="History">How it came to be so.</param>
/// <param name="Loops">Circles that its sound goes round in, as the engine runs it.</param>
public sealed record LiveState(long Sequence, StoredShow Show, History History, ImmutableArray<SoundLoop> Loops)
{
    private ShowDocument? _document;

    /// <summary>What the API gives of it; put together once.</summary>
    public ShowDocument Document => _document ??= ShowDocument.Of(this);
}

/// <summary>Hears of every change of the live show, one after the other. Must not wait.</summary>
public interface IShowAudience
{
    /// <summary>The show is another now.</summary>
    /// <param name="before">The show before; null: it was opened.</param>
    /// <param name="now">The show as it is now.</param>
    /// <param name="step">What was done; null: it was opened, has another name, or was fetched anew.</param>
    void Changed(LiveState? before, LiveState now, Step? step);

    /// <summary>Changes that were only tried are heard no more: what is stored is.</summary>
    /// <param name="ended">Each of one value.</param>
    void PreviewsEnded(IReadOnlyList<RigCommand> ended);

    /// <summary>The database has gone, or is back.</summary>
    void StorageChanged();
}
