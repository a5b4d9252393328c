using System.Collections.Immutable;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Live;

/// <summary>One operation of a JSON Patch (RFC 6902).</summary>
/// <param name="Op">add, remove or replace.</param>
/// <param name="Path">A JSON Pointer (RFC 6901) into the show's document.</param>
/// <param name="Value">What is added, or stands there now; null with remove.</param>
public sealed record PatchOperation(string Op, string Path, object? Value);

/// <summary>
/// What makes one document of the live show into the next: sources, mixes, sends, cables, pads and cues that are new, gone or changed, each whole.
/// A rig is immutable, so most of it is the same object as before and not looked into.
/// </summary>
static class ShowPatch
{
    /// <summary>The operations, in order; the sequence itself is not among them.</summary>
    public static ImmutableArray<PatchOperation> Between(ShowDocument before, ShowDocument now)
    {
        var operations = ImmutableArray.CreateBuilder<PatchOperation>();
        Replace("/name", before.Name, now.Name);
        Replace("/revision", before.Revision, now.Revision);
        Items("/sources", before.Sources, now.Sources, s => s.Id.Value, null);
        Items("/mixes", before.Mixes, now.Mixes, m => m.Id.Value, Sends);
        Items("/cables", before.Cables, now.Cables, c => c.Id.Value, null);
        if (!before.CableEnds.SequenceEqual(now.CableEnds))
        {
            operations.Add(new("replace", "/cableEnds", now.CableEnds));
        }

        Replace("/wishes", before.Wishes, now.Wishes);
        Items("/promises", before.Promises, now.Promises, p => p.Id.Value, null);
        Items("/padSets", before.PadSets, now.PadSets, p => p.Id.Value, Pads);
        Items("/cues", before.Cues, now.Cues, c => c.Id.Value, null);
        Items("/tracks", before.Tracks, now.Tracks, t => t.Id.Value, null);
        Replace("/recording", before.Recording, now.Recording);
        Items("/streams", before.Streams, now.Streams, s => s.Id.Value, null);
        if (!before.Loops.Select(Told).SequenceEqual(now.Loops.Select(Told)))
        {
            operations.Add(new("replace", "/loops", now.Loops));
        }

        Replace("/toUndo", before.ToUndo, now.ToUndo);
        Replace("/toRedo", before.ToRedo, now.ToRedo);
        return operations.ToImmutable();

        // A mix in which nothing but sends has changed is told by these.
        bool Sends(string path, Mix old, Mix mix)
        {
            if (old with { Sends = mix.Sends } != mix)
            {
                return false;
            }

            Items($"{path}/sends", old.Sends, mix.Sends, s => s.Source.Value, null);
            return true;
        }

        // As with mixes: of a set with the same name, its pads.
        bool Pads(string path, PadSet old, PadSet set)
        {
            if (old.Name != set.Name)
            {
                return false;
            }

            Items($"{path}/pads", old.Pads, set.Pads, p => p.Id.Value, null);
            return true;
        }

        void Items<T>(string path, ImmutableArray<T> old, ImmutableArray<T> items, Func<T, string> id, Func<string, T, T, bool>? inside)
            where T : class
        {
            var kept = items.Select(id).ToHashSet();
            var there = old.ToList();
            for (var i = there.Count - 1; i >= 0; i--)
            {
                if (!kept.Contains(id(there[i])))
                {
                    operations.Add(new("remove", $"{path}/{i}", null));
                    there.RemoveAt(i);
                }
            }

            var known = there.ToDictionary(id);
            if (!there.Select(id).SequenceEqual(items.Select(id).Where(known.ContainsKey)))
            {
                operations.Add(new("replace", path, items));
                return;
            }

            for (var i = 0; i < items.Length; i++)
            {
                if (!known.TryGetValue(id(items[i]), out var was))
                {
                    operations.Add(new("add", $"{path}/{i}", items[i]));
                }
                else if (!Equals(was, items[i]) && inside?.Invoke($"{path}/{i}", was, items[i]) != true)
                {
                    operations.Add(new("replace", $"{path}/{i}", items[i]));
                }
            }
        }

        void Replace<T>(string path, T old, T value)
        {
            if (!Equals(old, value))
            {
                operations.Add(new("replace", path, value));
            }
        }
    }

    // Reports are made anew each time; what they say of a loop is in these.
    private static (string, double, string) Told(LoopReport loop) => (loop.Sentence, loop.GainDb, string.Join(' ', loop.Held));
}
