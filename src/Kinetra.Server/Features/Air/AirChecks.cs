using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Net.Sockets;
using System.Text.Json.Serialization;
using Kinetra.Core.Engine;
using Kinetra.Core.Findings;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Takes;
using Kinetra.Server.Features.Promises;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Air;

/// <summary>What came of a check.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<AirCheckState>))]
public enum AirCheckState
{
    /// <summary>As it should be.</summary>
    Good,

    /// <summary>Somebody should look at it.</summary>
    Look,

    /// <summary>As it is, the show would be spoilt.</summary>
    Wrong,
}

/// <summary>One thing that is looked at before a start.</summary>
/// <param name="What">What, in a word or two.</param>
/// <param name="State">What came of it.</param>
/// <param name="Words">The same in a sentence.</param>
public sealed record AirCheck(string What, AirCheckState State, string Words);

/// <summary>What is looked at before a show goes on air: whether the servers are there, what the mixes give, promises, findings, hush, and the room for a take.</summary>
public sealed class AirChecks(AirPasswords passwords, LiveShow live, Playing playing, EngineHost host, PromiseWatch promises, HushSwitch hush, ServerOptions options, TimeProvider time)
{
    private const double Silent = -70;
    private const double Off = 6;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    // A server that is knocked at all the time may shut its door.
    private static readonly TimeSpan Knocks = TimeSpan.FromSeconds(30);
    private readonly ConcurrentDictionary<AirServer, (DateTimeOffset At, string? Wrong)> _knocked = new();

    /// <summary>Looks at all of it now.</summary>
    /// <param name="ask">True: every server is asked now whether it is there; false: it was asked within the last 30 s.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<ImmutableArray<AirCheck>> LookAsync(bool ask, CancellationToken cancel)
    {
        var rig = live.Show.Rig;
        var servers = await Task.WhenAll(rig.Streams.Select(s => ServerAsync(s, ask, cancel)));
        var now = promises.Look();
        return
        [
            .. servers,
            .. Levels(rig),
            Hush(),
            Promises(now),
            Findings(now.Looked.Situation),
            Room(rig),
        ];
    }

    private async Task<AirCheck> ServerAsync(Broadcast stream, bool ask, CancellationToken cancel)
    {
        var server = stream.Server;
        if (ask || !_knocked.TryGetValue(server, out var known) || time.GetUtcNow() - known.At > Knocks)
        {
            if (_knocked.Count > RigLimits.Streams)
            {
                // Servers that no stream goes to any more.
                _knocked.Clear();
            }

            known = _knocked[server] = (time.GetUtcNow(), await KnockAsync(server, cancel));
        }

        return known.Wrong is { } wrong ? new(stream.Name, AirCheckState.Wrong, wrong)
            : passwords.Has(live.Show.Id, stream.Id) ? new(stream.Name, AirCheckState.Good, $"{server.Host}, port {server.Port}, answers.")
            : new(stream.Name, AirCheckState.Look, $"{server.Host}, port {server.Port}, answers, but no password is kept for it.");
    }

    // Null: it is there.
    private static async Task<string?> KnockAsync(AirServer server, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        try
        {
            using var client = new TcpClient();
            await using var line = await SourceConnection.ConnectAsync(client, server, server.Kind == ServerKind.FirstLine ? server.Port + 1 : server.Port, patience.Token);
            return null;
        }
        catch (StreamServerException e)
        {
            return $"{e.Message} {e.Check}";
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return $"{server.Host}, port {server.Port}, does not answer.";
        }
    }

    private IEnumerable<AirCheck> Levels(Rig rig)
    {
        var board = host.IsRunning ? host.Engine.Plan.Meters : null;
        var values = new float[board?.Layout.Length ?? 0];
        if (board is null || board.Read(values) < 0)
        {
            yield break;
        }

        var layout = board.Layout;
        foreach (var mix in rig.Streams.Select(s => rig.Find(s.Mix)).OfType<Mix>().DistinctBy(m => m.Id))
        {
            var at = layout.Mixes.IndexOf(mix.Id);
            if (at < 0)
            {
                continue;
            }

            var own = values.AsSpan((layout.Sources.Length * MeterLayout.SourceValues) + (at * MeterLayout.MixValues), MeterLayout.MixValues);
            var (loudness, peak) = (own[(int)MixMeter.ShortTerm], own[(int)MixMeter.TruePeakHold]);
            var told = $"{mix.Name} is at {Number(loudness)} LUFS";
            yield return (loudness, peak, mix.TargetLufs) switch
            {
                ( < (float)Silent or float.NaN, _, _) => new("Level", AirCheckState.Look, $"{mix.Name} is silent now."),
                (_, > 0, _) => new("Level", AirCheckState.Look, $"{mix.Name} goes beyond full scale, by {Number(peak)} dB."),
                (_, _, var target) when Math.Abs(loudness - target) > Off => new("Level", AirCheckState.Look, $"{told}; its target is {Number(target)}."),
                (_, _, var target) => new("Level", AirCheckState.Good, $"{told}; its target is {Number(target)}."),
            };
        }
    }

    private AirCheck Hush() => hush.IsOn
        ? new("Hush", AirCheckState.Wrong, "Hush is on: all would hear silence.")
        : new("Hush", AirCheckState.Good, "Hush is off.");

    private static AirCheck Promises(PromisesNow now)
    {
        var (broken, open) = (now.Standings.Where(s => s.State == PromiseState.Broken).ToList(), now.Standings.Count(s => s.State == PromiseState.NotKnown));
        return broken.Count > 0 ? new("Promises", AirCheckState.Wrong, $"{Count(broken.Count, "promise is", "promises are")} broken.")
            : now.Standings.IsEmpty ? new("Promises", AirCheckState.Look, "Nothing is promised about who hears what.")
            : open > 0 ? new("Promises", AirCheckState.Look, $"{Count(now.Standings.Length - open, "promise is", "promises are")} kept, {open} not known yet.")
            : new("Promises", AirCheckState.Good, $"{Count(now.Standings.Length, "promise is", "promises are")} kept.");
    }

    private static AirCheck Findings(Situation situation)
    {
        // What is told of the streams themselves is told above.
        var open = situation.Open.Where(f => f.Kind != FindingKind.OffAir).ToList();
        var serious = open.Where(f => f.Harm == Harm.Serious).ToList();
        var others = open.Count(f => f.Harm == Harm.Noticeable);
        return serious.Count > 0 ? new("Findings", AirCheckState.Wrong, serious[0].Sentence + (serious.Count > 1 ? $" And {serious.Count - 1} more." : ""))
            : others > 0 ? new("Findings", AirCheckState.Look, $"{Count(others, "thing was", "things were")} found that somebody will notice.")
            : new("Findings", AirCheckState.Good, "Nothing wrong found.");
    }

    private AirCheck Room(Rig rig)
    {
        var take = TakePlan.Of(rig, playing.Plan.ChannelsOf);
        var free = TakeRoom.Free(options.DataFolder);
        return new("Room", take.BytesAnHour > 0 && free < take.BytesAnHour ? AirCheckState.Look : AirCheckState.Good, $"For a take: {TakePlan.Room(free, take.BytesAnHour)}");
    }

    private static string Count(int count, string one, string several) => $"{count} {(count == 1 ? one : several)}";

    private static string Number(double value) => value.ToString("0.0", CultureInfo.InvariantCulture).Replace('-', '−');
}
