using System.Collections.Immutable;
using Kinetra.Core.Takes;

namespace Kinetra.Server.Features.Takes;

/// <summary>What the engine gave for a track, and where that lies in its file.</summary>
/// <param name="Given">Second by second.</param>
/// <param name="Stretches">Where.</param>
sealed record TrackPrints(ImmutableArray<SecondPrint> Given, ImmutableArray<Stretch> Stretches)
{
    /// <summary>Of a take that was cut off: nothing is known.</summary>
    public static readonly TrackPrints None = new([], []);
}

/// <summary>The file beside a take's tracks in which it is kept what the engine gave: a take can be held against that again, years later.</summary>
static class TakePrints
{
    /// <summary>Its name.</summary>
    public const string FileName = "take.prints";

    private const int Version = 1;

    /// <summary>Writes it.</summary>
    /// <param name="folder">The take's folder.</param>
    /// <param name="tracks">All tracks, in order.</param>
    /// <exception cref="IOException">It could not be written.</exception>
    public static void Write(string folder, IReadOnlyList<TrackPrints> tracks)
    {
        using var writer = new BinaryWriter(File.Create(Path.Combine(folder, FileName)));
        writer.Write(Version);
        writer.Write(tracks.Count);
        foreach (var track in tracks)
        {
            writer.Write(track.Given.Length);
            foreach (var second in track.Given)
            {
                writer.Write(second.Hash);
                writer.Write(second.MeanSquare);
                writer.Write(second.IsKnown);
            }

            writer.Write(track.Stretches.Length);
            foreach (var stretch in track.Stretches)
            {
                writer.Write(stretch.Take);
                writer.Write(stretch.Sound);
            }
        }
    }

    /// <summary>Reads it; of a take that has none, or a damaged one, nothing is known.</summary>
    /// <param name="folder">The take's folder.</param>
    /// <param name="tracks">How many tracks it has.</param>
    public static IReadOnlyList<TrackPrints> Read(string folder, int tracks)
    {
        try
        {
            using var reader = new BinaryReader(File.OpenRead(Path.Combine(folder, FileName)));
            if (reader.ReadInt32() != Version || reader.ReadInt32() != tracks)
            {
                return None(tracks);
            }

            var all = new List<TrackPrints>();
            for (var t = 0; t < tracks; t++)
            {
                var given = ImmutableArray.CreateBuilder<SecondPrint>();
                for (var left = reader.ReadInt32(); left > 0; left--)
                {
                    given.Add(new(reader.ReadUInt64(), reader.ReadSingle(), reader.ReadBoolean()));
                }

                var stretches = ImmutableArray.CreateBuilder<Stretch>();
                for (var left = reader.ReadInt32(); left > 0; left--)
                {
                    stretches.Add(new(reader.ReadInt64(), reader.ReadInt64()));
                }

                all.Add(new(given.ToImmutable(), stretches.ToImmutable()));
            }

            return all;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return None(tracks);
        }
    }

    private static TrackPrints[] None(int tracks) => [.. Enumerable.Repeat(TrackPrints.None, tracks)];
}
