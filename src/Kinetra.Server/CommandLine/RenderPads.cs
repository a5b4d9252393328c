using System.Globalization;
using System.Security.Cryptography;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;

namespace Kinetra.Server.CommandLine;

/// <summary>The pads of a show that is rendered: their sounds, found in a folder by their content, and what the list of cues does with them where hands go on at given times.</summary>
sealed class RenderPads
{
    private const long MostCueSeconds = 24 * 3_600;

    private readonly PadPlayer _player = new();
    private readonly Dictionary<PadId, (Pad Pad, ReadyPad Ready, SoundBuffer Sound)> _pads = [];
    private readonly Queue<TimedOrder> _orders = [];
    private IReadOnlyList<BegunCue> _begun = [];

    private RenderPads()
    {
    }

    /// <summary>The frame at which the last of it has sounded.</summary>
    public long End { get; private set; }

    /// <summary>Reads what an order says of pads.</summary>
    /// <exception cref="RenderException">It cannot be done.</exception>
    public static RenderPads Of(RenderOrder order, Rig rig)
    {
        var made = new RenderPads();
        if (order.Cues is null)
        {
            return made;
        }

        var hands = HandsOf(order.Cues);
        if (rig.Cues.IsEmpty)
        {
            throw new RenderException(new RigProblem("--cues", "The show has no cues.", "a show with a list of cues"));
        }

        made.ReadSounds(order.Sounds, rig);
        made._begun = CueOrders.Performed(new CueRun(rig.Cues, made.LengthOf), hands, MostCueSeconds * AudioFormat.SampleRate);
        foreach (var cue in made._begun)
        {
            var longest = cue.Cue.Acts.OfType<PlayPad>().Select(p => made.LengthOf(p.Pad) ?? 0).Append(0).Max();
            made.End = Math.Max(made.End, cue.Frame + longest + AudioFormat.SampleRate);
        }

        return made;
    }

    /// <summary>The inlet of a source that plays pads.</summary>
    public IInlet Inlet(SourceId source) => _player.Inlet(source);

    /// <summary>Makes what the cues do ready to be given: of levels, in the show as it is once the cues before have changed it.</summary>
    public void Prepare(Rig rig, EnginePlan plan)
    {
        foreach (var cue in _begun)
        {
            var told = new List<CueAct>();
            foreach (var given in CueOrders.Of(cue, Press, (act, frame) => Told(act, frame)))
            {
                _orders.Enqueue(given);
            }

            rig = CueSends.After(rig, told);

            LevelOrder? Told(CueAct act, long frame)
            {
                var order = CueLevels.OrderOf(CueSends.After(rig, told), plan, act, frame);

                // No other plan comes that could say something else.
                order?.Settle();
                told.Add(act);
                return order;
            }
        }
    }

    /// <summary>Gives the player and the engine what is due before a frame.</summary>
    public void GiveUntil(long frame, MixEngine engine)
    {
        while (_orders.TryPeek(out var next) && next.Frame < frame)
        {
            if (_orders.Dequeue() is LevelOrder level)
            {
                engine.Post(level);
            }
            else
            {
                _player.Post((PadOrder)next);
            }
        }
    }

    private long? LengthOf(PadId pad) => _pads.TryGetValue(pad, out var found) && found.Pad.Play != PadPlay.Loop ? found.Ready.Frames : null;

    private PadOrder.Press? Press(PadId pad, long frame) =>
        _pads.TryGetValue(pad, out var found) ? new PadOrder.Press(frame, found.Ready, found.Sound, _player.Inlet(found.Pad.Source)) : null;

    private void ReadSounds(string? folder, Rig rig)
    {
        var played = rig.Cues.SelectMany(c => c.Acts).OfType<PlayPad>().Select(p => p.Pad).ToHashSet();
        var wanted = rig.PadSets.SelectMany(s => s.Pads).Where(p => played.Contains(p.Id) && rig.Find(p.Source) is { Input: PadsInput }).ToLookup(p => p.Sound);
        if (wanted.Count == 0)
        {
            return;
        }

        if (folder is null || !Directory.Exists(folder))
        {
            throw new RenderException(new RigProblem("--sounds", "Cues play pads, and their sounds are in no folder that is there.", "a folder with the files that the pads were made of"));
        }

        var left = wanted.Select(w => w.Key).ToHashSet(StringComparer.Ordinal);
        foreach (var path in Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal))
        {
            using var file = File.OpenRead(path);
            var address = Convert.ToHexStringLower(SHA256.HashData(file));
            if (!left.Remove(address))
            {
                continue;
            }

            try
            {
                var sound = SoundFileReader.Read(path).Sound;
                foreach (var pad in wanted[address])
                {
                    _pads[pad.Id] = (pad, ReadyPad.Of(pad, sound), sound);
                }
            }
            catch (SoundFileException e)
            {
                throw new RenderException(new RigProblem($"--sounds {Path.GetFileName(path)}", e.What, e.Allowed));
            }
        }

        if (left.Count > 0)
        {
            var missing = rig.PadSets.SelectMany(s => s.Pads).Where(p => left.Contains(p.Sound)).Select(p => p.Name).Distinct();
            throw new RenderException(new RigProblem("--sounds", $"The sounds of these pads are not in {folder}: {string.Join(", ", missing)}.", "the very files that they were made of, by any name"));
        }
    }

    // "0, 12.5, 30"
    private static List<long> HandsOf(string text)
    {
        var hands = new List<long>();
        foreach (var word in text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            if (!double.TryParse(word, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var seconds) || seconds > MostCueSeconds)
            {
                throw new RenderException(new RigProblem("--cues", $"“{word}” is no time.", "seconds from 0 to 86400, with a point, one behind the other: \"0, 12.5, 30\""));
            }

            hands.Add((long)Math.Round(seconds * AudioFormat.SampleRate));
            if (hands.Count > 1 && hands[^1] < hands[^2])
            {
                throw new RenderException(new RigProblem("--cues", $"“{word}” comes before the time before it.", "times that rise"));
            }
        }

        return hands;
    }
}
