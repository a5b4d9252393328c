using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

public class PadProposalTests
{
    private static readonly SourceId Voice = new("voice"), Pads = new("pads");

    [Fact]
    public void Whatever_is_proposed_lies_where_it_was_wished_once_it_is_played_among_all_others_to_the_listeners()
    {
        // The judge measures what a mix gives, off its samples, in an engine with everything that the show has.
        Gen.Select(Gen.Int[0, 2], Gen.Double[-30, -14], Gen.Double[-10, 4].Array[3], Gen.Double[0.1, 2.5], Gen.Double[-40, -3], Gen.Int[0, 2], Gen.Double[-1, 1], Gen.Bool).Sample(
            (wish, voice, sends, seconds, level, chain, pan, isStereo) =>
            {
                var rig = RigOf(sends, chain, pan);
                var sound = Sound(seconds, level, isStereo);
                var pad = PadOf();
                var voices = PadProposal.VoicesOf(rig, s => s == Voice ? voice : double.NegativeInfinity);
                var proposal = PadProposal.Of(rig, pad, sound, voices, (PadWish)wish, TestContext.Current.CancellationToken).ShouldNotBeNull();
                var heard = Loudest(rig, pad with { Gain = proposal.Gain }, sound);
                var wanted = voices.Select(v => (PadWish)wish switch { PadWish.AsLoudAsTheVoice => v.Lufs, PadWish.ABitUnder => v.Lufs - 4, _ => rig.Find(v.Mix)!.TargetLufs }).ToArray();
                var over = heard.Zip(wanted, (h, w) => h - w).Max();
                over.ShouldBe(-proposal.Missing, 0.5);
                proposal.Missing.ShouldBeGreaterThanOrEqualTo(0);
                if (proposal.Missing > 0)
                {
                    proposal.Gain.Decibels.ShouldBe(Gain.MaxDecibels);
                }

                // And each mix is told as it is.
                foreach (var place in proposal.Loudness.Mixes)
                {
                    heard[rig.Mixes.ToList().FindIndex(m => m.Id == place.Mix)].ShouldBe(place.Lufs, 0.5);
                }
            },
            iter: 40);
    }

    [Fact]
    public void Who_has_not_spoken_yet_is_thought_to_be_at_the_target_and_that_is_said()
    {
        var voices = PadProposal.VoicesOf(RigOf([0, 0, 0], 0, 0), _ => double.NegativeInfinity);
        voices.ShouldAllBe(v => v.Source == null && v.Lufs == -18);
    }

    [Fact]
    public void A_pad_that_nobody_hears_or_that_is_silent_gets_no_proposal()
    {
        var rig = RigOf([0, 0, 0], 0, 0);
        var voices = PadProposal.VoicesOf(rig, _ => -20);
        PadProposal.Of(rig, PadOf(), new SoundBuffer(new float[4800], null), voices, PadWish.ABitUnder, TestContext.Current.CancellationToken).ShouldBeNull();
        foreach (var mix in rig.Mixes)
        {
            rig = rig.With(mix.Id, rig.Find(mix.Id, Pads)! with { Muted = true });
        }

        PadProposal.Of(rig, PadOf(), Sound(1, -10, false), voices, PadWish.ABitUnder, TestContext.Current.CancellationToken).ShouldBeNull();
    }

    [Fact]
    public void Of_a_pad_its_loudest_moment_and_its_peak_are_told()
    {
        var sound = new SoundBuffer([.. Signals.Sine(1000, 0.1, 48_000), .. Signals.Sine(1000, 0.5, 48_000)], null);
        var loudness = PadLoudness.Measure(RigOf([0, 0, 0], 0, 0), PadOf(), sound, TestContext.Current.CancellationToken).ShouldNotBeNull();
        loudness.Peak.ShouldBe(-12.03, 0.1, "3 dB for the middle of two channels, 3 dB by the trim");
        loudness.Momentary.ShouldBe(-12.0, 0.15);
    }

    private static Pad PadOf() => new() { Id = new("p"), Name = "Pad", Sound = new('0', 64), Source = Pads, End = 900_000, Play = PadPlay.Once };

    private static Rig RigOf(double[] sends, int chain, double pan)
    {
        var rig = Rig.Empty;
        var made = new List<RigCommand>
        {
            new AddSource(new Source { Id = Voice, Name = "Voice", Kind = SourceKind.Microphone, Input = new SoundFileInput(new('0', 64), true) }),
            new AddSource(new Source
            {
                Id = Pads,
                Name = "Pads",
                Kind = SourceKind.Pads,
                Input = new PadsInput(),
                Trim = new(-3),
                Chain = chain switch
                {
                    0 => [],
                    1 => [Processor.Of(Equaliser.Type, ("gain1", 6), ("frequency1", 300), ("q1", 1))],
                    _ => [Processor.Of(Compressor.Type, ("threshold", -30), ("ratio", 3))],
                },
            }),
        };
        for (var m = 0; m < 3; m++)
        {
            made.Add(new AddMix(new Mix { Id = new($"m{m}"), Name = $"Mix {m}", Purpose = MixPurpose.Viewers, TargetLufs = -18, Gain = new(-3 * m) }));
            made.Add(new SetSend(new($"m{m}"), Pads, new Gain(sends[m]), Heard: true, Pan: pan));
            made.Add(new SetSend(new($"m{m}"), Voice, new Gain(2), Heard: true));
        }

        foreach (var command in made)
        {
            rig = command.Apply(rig).ShouldBeOfType<CommandResult.Applied>().Rig;
        }

        return rig;
    }

    private static SoundBuffer Sound(double seconds, double level, bool isStereo)
    {
        var random = new Random(3);
        var left = Enumerable.Range(0, (int)(seconds * 48_000)).Select(n => (float)(Math.Pow(10, level / 20) * (random.NextDouble() - 0.5) * Math.Min(1, n / 500.0) * (0.6 + (0.4 * Math.Sin(n / 9000.0))))).ToArray();
        return new SoundBuffer(left, isStereo ? [.. left.Select(x => x * 0.5f)] : null);
    }

    // The loudest moment of each mix, of all that leaves it.
    private static double[] Loudest(Rig rig, Pad pad, SoundBuffer sound)
    {
        var player = new PadPlayer();
        var silence = new SoundBuffer(new float[48_000], null);
        var engine = new MixEngine(EnginePlan.Build(rig, s => s.Input is PadsInput ? player.Inlet(s.Id) : new SoundInlet(silence, true, beginsWithSource: true), null));
        player.Post(new PadOrder.Press(20_000, ReadyPad.Of(pad, sound), sound, player.Inlet(Pads)));
        var blocks = ((int)(sound.Frames + 60_000) / AudioFormat.BlockFrames) + 1;
        var heard = rig.Mixes.Select(_ => (Left: new List<float>(), Right: new List<float>())).ToArray();
        for (var b = 0; b < blocks; b++)
        {
            engine.ProcessBlock();
            for (var m = 0; m < heard.Length; m++)
            {
                heard[m].Left.AddRange(engine.Plan.Mixes[m].Block.Left);
                heard[m].Right.AddRange(engine.Plan.Mixes[m].Block.Right);
            }
        }

        return [.. heard.Select(h => LoudestMoment([.. h.Left], [.. h.Right]))];
    }

    // ITU-R BS.1770-5, with the coefficients of its tables 1 and 2 for 48 kHz; 400 ms, each 10 ms.
    private static double LoudestMoment(float[] left, float[] right)
    {
        var energy = new double[left.Length + 1];
        foreach (var channel in new[] { left, right })
        {
            var shelf = Filtered([.. channel.Select(x => (double)x)], [1.53512485958697, -2.69169618940638, 1.19839281085285], [-1.69065929318241, 0.73248077421585]);
            var weighed = Filtered(shelf, [1, -2, 1], [-1.99004745483398, 0.99007225036621]);
            var sum = 0.0;
            for (var n = 0; n < weighed.Length; n++)
            {
                sum += weighed[n] * weighed[n];
                energy[n + 1] += sum;
            }
        }

        var most = 0.0;
        for (var n = 19_200; n < energy.Length; n += 480)
        {
            most = Math.Max(most, (energy[n] - energy[n - 19_200]) / 19_200);
        }

        return -0.691 + (10 * Math.Log10(most));
    }

    private static double[] Filtered(double[] x, double[] b, double[] a)
    {
        var y = new double[x.Length];
        for (var n = 0; n < x.Length; n++)
        {
            y[n] = (b[0] * x[n]) + (n > 0 ? (b[1] * x[n - 1]) - (a[0] * y[n - 1]) : 0) + (n > 1 ? (b[2] * x[n - 2]) - (a[1] * y[n - 2]) : 0);
        }

        return y;
    }
}
