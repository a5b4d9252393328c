using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

public class PadPlayerTests
{
    private const int Block = AudioFormat.BlockFrames;

    [Fact]
    public void A_pad_begins_at_its_exact_frame_with_its_first_sample_and_ends_with_its_last()
    {
        var player = new PadPlayer();
        var sound = Bump(1000);
        player.Post(Press(player, 700, PadOf("a", sound, gain: -6), sound));
        var heard = Render(player, 8);
        var factor = (float)new Gain(-6).Linear;
        heard.Left[..700].ShouldAllBe(x => x == 0);
        heard.Left[1700..].ShouldAllBe(x => x == 0);
        for (var n = 0; n < 1000; n++)
        {
            heard.Left[700 + n].ShouldBe(sound.Left[n] * factor * Half, 1e-7f);
        }

        heard.Right.ShouldBe(heard.Left, "a pad of one channel is in both sides alike");
    }

    [Fact]
    public void What_is_pressed_in_the_past_begins_with_the_next_block()
    {
        var player = new PadPlayer();
        Render(player, 3);
        var sound = Bump(1000);
        player.Post(Press(player, 5, PadOf("a", sound), sound));
        Render(player, 1, from: 3).Left[10].ShouldBe(sound.Left[10] * Half, 1e-7f);
    }

    [Fact]
    public void Whatever_is_pressed_let_go_and_stopped_the_same_a_number_of_frames_later_gives_the_same_samples_that_much_later()
    {
        // Where blocks begin matters to nothing.
        Gen.Select(Gen.Int[1, 700], Orders).Sample((later, orders) =>
        {
            var (one, other) = (new PadPlayer(), new PadPlayer());
            Post(one, orders, 0);
            Post(other, orders, later);
            var (first, second) = (Render(one, 60).Left, Render(other, 63).Left);
            second[..later].ShouldAllBe(x => x == 0);
            first.ShouldBe(second[later..(later + first.Length)]);
        }, iter: 60);
    }

    [Fact]
    public void Orders_of_one_frame_are_carried_out_as_they_were_given()
    {
        var player = new PadPlayer();
        var sound = Steady(5000);
        var a = PadOf("a", sound, group: "g");
        player.Post(Press(player, 100, a, sound));
        player.Post(new PadOrder.Stop(100));
        player.Post(Press(player, 100, PadOf("b", sound), sound));
        var heard = Render(player, 8).Left;

        // The first was stopped at once, the other was not.
        heard[1900].ShouldBe(0.25f, 1e-6f);
    }

    [Fact]
    public void Once_is_pressed_in_vain_while_it_sounds_and_over_itself_adds_up()
    {
        var sound = Steady(20_000);
        Loudest(PadPlay.Once).ShouldBe(0.25f, 1e-6f);
        Loudest(PadPlay.Again).ShouldBe(0.25f, 1e-6f);
        Loudest(PadPlay.Over).ShouldBe(0.5f, 1e-6f);

        float Loudest(PadPlay play)
        {
            var player = new PadPlayer();
            var pad = PadOf("a", sound, play: play);
            player.Post(Press(player, 0, pad, sound));
            player.Post(Press(player, 4000, pad, sound));
            return Render(player, 40).Left[6000..].Max();
        }
    }

    [Fact]
    public void Again_begins_again_while_the_old_fades_out_under_it()
    {
        var player = new PadPlayer();
        var sound = new SoundBuffer([.. Enumerable.Range(0, 48_000).Select(n => n / 96_000f)], null);
        var pad = PadOf("a", sound);
        player.Post(Press(player, 0, pad, sound));
        player.Post(Press(player, 10_000, pad, sound));
        var heard = Render(player, 60).Left;
        heard[9_999].ShouldBe(Half * 9_999 / 96_000f, 1e-6f);
        heard[10_000 + ReadyPad.ShortestOut].ShouldBe(ReadyPad.ShortestOut * Half / 96_000f, 1e-6f);
        player.Sounding().Count.ShouldBe(1);
    }

    [Fact]
    public void A_loop_goes_round_until_it_is_pressed_again()
    {
        var player = new PadPlayer();

        // Ten periods: it fits, and goes round to the sample.
        var sound = new SoundBuffer(Signals.Sine(100, 0.5, 4800), null);
        var pad = PadOf("a", sound, play: PadPlay.Loop);
        pad.Seam.ShouldBe(0);
        player.Post(Press(player, 0, pad, sound));
        player.Post(Press(player, 20_000, pad, sound));
        var heard = Render(player, 90).Left;
        for (var n = 0; n < 20_000; n++)
        {
            heard[n].ShouldBe(sound.Left[n % 4800] * Half, 1e-7f);
        }

        heard[(20_000 + ReadyPad.ShortestOut)..].ShouldAllBe(x => x == 0);
        player.Sounding().ShouldBeEmpty();
    }

    [Fact]
    public void Held_plays_while_it_is_held_and_release_means_nothing_to_others()
    {
        var sound = Steady(40_000);
        foreach (var play in Enum.GetValues<PadPlay>())
        {
            var player = new PadPlayer();
            player.Post(Press(player, 0, PadOf("a", sound, play: play), sound));
            player.Post(new PadOrder.Release(2000, new("a")));
            (Render(player, 20).Left[2000 + ReadyPad.ShortestOut] == 0).ShouldBe(play == PadPlay.Held, play.ToString());
        }
    }

    [Fact]
    public void In_a_group_the_one_that_begins_ends_the_others_each_with_its_own_fade()
    {
        var sound = Steady(96_000);
        var player = new PadPlayer();
        player.Post(Press(player, 0, PadOf("a", sound, group: "bed", fadeOut: 500), sound));
        player.Post(Press(player, 0, PadOf("other", sound), sound));
        player.Post(Press(player, 4800, PadOf("b", sound, group: "bed"), sound));
        Render(player, 20);
        player.Sounding().Count.ShouldBe(3, "it still fades");
        Render(player, 100, from: 20);
        player.Sounding().Select(s => s.Pad.Value).ShouldBe(["other", "b"], ignoreOrder: true);
    }

    [Fact]
    public void Nothing_clicks_wherever_a_sound_is_cut_into_stopped_begun_again_stolen_or_goes_round()
    {
        // A low tone that begins, ends and goes round at its loudest: whatever is heard above 5 kHz is a click.
        var sound = new SoundBuffer([.. Signals.Sine(100, 0.5, 48_120)[120..]], null);
        Gen.Select(Gen.Int[0, 4].Select(p => (PadPlay)p), Gen.Int[0, 900], Gen.Int[100, 400], Gen.Int[2000, 12_000].Array[1, 5], Gen.Bool).Sample((play, begin, length, presses, isGrouped) =>
        {
            var player = new PadPlayer();
            var pads = new[] { "a", "b" }.Select(id => PadOf(id, sound, play: play, group: isGrouped ? "g" : "", begin: begin, end: Math.Min(begin + length, 1000))).ToArray();
            var at = 3000;
            foreach (var (press, i) in presses.Select((p, i) => (p, i)))
            {
                player.Post(Press(player, at, pads[i % 2], sound));
                player.Post(new PadOrder.Release(at + (press / 2), pads[i % 2].Id));
                at += press;
            }

            player.Post(new PadOrder.Stop(at));
            var heard = Render(player, 270).Left;
            Signals.RmsAbove(5000, heard, 2048, heard.Length - 2048).ShouldBeLessThan(-75);
        }, iter: 60);
    }

    [Fact]
    public void Of_more_presses_than_voices_the_first_make_room_without_a_click_and_all_is_counted()
    {
        var player = new PadPlayer();
        var sound = new SoundBuffer(Signals.Sine(50, 0.01, 48_000), null);
        for (var i = 0; i < PadPlayer.Voices + 20; i++)
        {
            player.Post(Press(player, i * 40, PadOf($"p{i}", sound, play: PadPlay.Over), sound));
        }

        var heard = Render(player, 60).Left;
        player.Sounding().Count.ShouldBe(PadPlayer.Voices);
        player.Sounding().Select(s => s.Pad.Value).ShouldBe(Enumerable.Range(20, PadPlayer.Voices).Select(i => $"p{i}"), ignoreOrder: true);
        player.Refused.ShouldBe(0);
        Signals.RmsAbove(5000, heard, 4096, heard.Length - 2048).ShouldBeLessThan(-75);

        // Twice as many in one moment is more than can fade out at once: what cannot be played is counted, and nothing breaks.
        for (var i = 0; i < 3 * PadPlayer.Voices; i++)
        {
            player.Post(Press(player, 0, PadOf($"q{i}", sound, play: PadPlay.Over), sound));
        }

        Render(player, 1, from: 60);
        player.Refused.ShouldBe(2 * PadPlayer.Voices);
        Render(player, 10, from: 61);
        player.Sounding().Count.ShouldBe(PadPlayer.Voices);
    }

    [Fact]
    public void While_a_pad_that_dims_sounds_all_others_go_down_and_come_back_and_itself_never()
    {
        var sound = Steady(96_000);
        var player = new PadPlayer();
        player.Post(Press(player, 0, PadOf("bed", sound), sound));
        player.Post(Press(player, 10_000, PadOf("sting", Steady(20_000), dim: 12), Steady(20_000)));
        var heard = Render(player, 300);
        var factor = (float)new Gain(-12).Linear;
        heard.Left[9_999].ShouldBe(0.25f, 1e-6f);
        heard.Left[20_000].ShouldBe(0.25f + (0.25f * factor), 1e-5f);
        heard.Left[29_000].ShouldBe(0.25f + (0.25f * factor), 1e-5f);
        heard.Left[30_000 + (PadDimUp * 2)].ShouldBe(0.25f, 1e-6f);
        heard.Dim[9_999].ShouldBe(1);
        heard.Dim[20_000].ShouldBe(factor, 1e-5f);
        heard.Dim[30_000 + (PadDimUp * 2)].ShouldBe(1);
    }

    [Fact]
    public void A_level_is_turned_while_it_sounds_without_a_step()
    {
        var sound = Steady(96_000);
        var player = new PadPlayer();
        player.Post(Press(player, 0, PadOf("a", sound), sound));
        player.Post(new PadOrder.Turn(5000, new("a"), 0.5f, over: 2400));
        var heard = Render(player, 40).Left;
        heard[4_999].ShouldBe(0.25f, 1e-6f);
        heard[7_400].ShouldBe(0.125f, 1e-6f);
        heard.Zip(heard.Skip(1)).Skip(1000).Max(p => Math.Abs(p.First - p.Second)).ShouldBeLessThan(1e-3f);
    }

    [Fact]
    public void It_allocates_nothing_however_much_is_pressed()
    {
        var player = new PadPlayer();
        var inlet = player.Inlet(Source);
        var sound = new SoundBuffer(Signals.Sine(50, 0.01, 9_000), Signals.Sine(60, 0.01, 9_000));
        var random = new Random(7);
        var pads = Enumerable.Range(0, 40).Select(i => PadOf($"p{i}", sound, play: (PadPlay)(i % 5), group: i % 3 == 0 ? "g" : "", dim: i % 7 == 0 ? 6 : 0)).ToArray();
        float[] left = new float[Block], right = new float[Block];
        Give(0, 200);
        Play(0, 200);
        Give(200, 2000);
        Allocations.Of(1800, n => Play(200 + n, 201 + n)).ShouldBe(0);

        void Give(int from, int to)
        {
            for (var i = 0; i < 2000; i++)
            {
                player.Post(new PadOrder.Press(random.Next(from * Block, to * Block), pads[random.Next(40)], sound, inlet));
            }
        }

        void Play(int from, int to)
        {
            for (var b = from; b < to; b++)
            {
                inlet.Read((long)b * Block, left, right);
                inlet.DimAt((long)b * Block);
            }
        }
    }

    [Fact]
    public void More_orders_than_can_wait_are_refused_and_those_that_wait_are_carried_out()
    {
        var player = new PadPlayer();
        var sound = Bump(500);
        var pad = PadOf("a", sound);
        for (var i = 0; i < PadPlayer.MostWaiting; i++)
        {
            player.Post(Press(player, 100_000 + i, pad, sound)).ShouldBeTrue();
        }

        player.Post(new PadOrder.Stop(0)).ShouldBeFalse();
        Render(player, 420);
        player.Post(new PadOrder.Stop(0)).ShouldBeTrue();
    }

    private const int PadDimUp = AudioFormat.SampleRate * 3 / 10;

    // One channel in the middle of two.
    private const float Half = 0.70710678f;

    private static readonly SourceId Source = new("pads");

    // Presses, releases and stops of a few pads.
    private static readonly Gen<(int What, int At, int Pad)[]> Orders = Gen.Select(Gen.Int[0, 9], Gen.Int[0, 12_000], Gen.Int[0, 4]).Array[1, 12];

    private static void Post(PadPlayer player, (int What, int At, int Pad)[] orders, int later)
    {
        var sound = new SoundBuffer(Signals.Sine(180, 0.3, 7_000), null);
        var pads = Enumerable.Range(0, 5).Select(i => PadOf($"p{i}", sound, play: (PadPlay)i, group: i < 2 ? "g" : "", dim: i == 3 ? 9 : 0, begin: 10 * i)).ToArray();
        foreach (var (what, at, pad) in orders)
        {
            player.Post(what switch
            {
                0 => new PadOrder.Stop(later + at),
                1 => new PadOrder.Release(later + at, pads[pad].Id),
                2 => new PadOrder.Turn(later + at, pads[pad].Id, 0.7f, over: 1000),
                _ => Press(player, later + at, pads[pad], sound),
            });
        }
    }

    private static PadOrder.Press Press(PadPlayer player, long frame, ReadyPad pad, ISoundReader sound) => new(frame, pad, sound, player.Inlet(Source));

    private static ReadyPad PadOf(
        string id, ISoundReader sound, double gain = 0, PadPlay play = PadPlay.Again, string group = "", double fadeOut = 0, double dim = 0, double begin = 0, double end = 900_000) =>
        ReadyPad.Of(
            new Pad { Id = new(id), Name = id, Sound = new('0', 64), Source = Source, End = end, Begin = begin, Play = play, Gain = new(gain), Group = group, FadeOut = fadeOut, Dim = dim },
            sound);

    // From silence up and down again: begins and ends as it is.
    private static SoundBuffer Bump(int frames) => new([.. Enumerable.Range(0, frames).Select(n => (float)Math.Pow(Math.Sin(Math.PI * n / (frames - 1)), 2))], null);

    // One level, from which gains can be read.
    private static SoundBuffer Steady(int frames) => new([.. Enumerable.Repeat(0.25f, frames)], [.. Enumerable.Repeat(0.25f, frames)]);

    private static (float[] Left, float[] Right, float[] Dim) Render(PadPlayer player, int blocks, int from = 0)
    {
        var inlet = player.Inlet(Source);
        var (left, right, dim) = (new float[blocks * Block], new float[blocks * Block], new float[blocks * Block]);
        for (var b = 0; b < blocks; b++)
        {
            inlet.Read((long)(from + b) * Block, left.AsSpan(b * Block, Block), right.AsSpan(b * Block, Block));
            var dims = inlet.DimAt((long)(from + b) * Block);
            if (dims.IsEmpty)
            {
                dim.AsSpan(b * Block, Block).Fill(1);
            }
            else
            {
                dims.CopyTo(dim.AsSpan(b * Block));
            }
        }

        return (left, right, dim);
    }
}
