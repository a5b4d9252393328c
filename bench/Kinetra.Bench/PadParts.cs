using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>
/// What pads cost while so many presses sound: stereo loops that fit nowhere, so that each crosses over into its beginning now and then, from memory. The numbers
/// of presses take turns, so that what disturbs one disturbs all; last, all sound and 64 more begin in every tenth block, each in another's place.
/// </summary>
static class PadParts
{
    private const int Rounds = 15;
    private const int Blocks = 200;
    private const int Frames = 30_011;
    private static readonly int[] Sounding = [0, 1, 8, PadPlayer.Voices];

    public static object Measure()
    {
        Stage[] stages = [.. Sounding.Select(n => new Stage(n, steals: false)), new Stage(PadPlayer.Voices, steals: true)];
        foreach (var stage in stages)
        {
            Warm.Up(() => stage.Run(1));
        }

        var times = stages.Select(_ => new List<double>()).ToArray();
        for (var round = 0; round < Rounds; round++)
        {
            for (var s = 0; s < stages.Length; s++)
            {
                times[s].Add(stages[s].Run(Blocks));
            }
        }

        return stages.Select((stage, s) => new
        {
            sounding = stage.Voices,
            begunEachTenthBlock = stage.Steals ? PadPlayer.Voices : 0,
            nsPerFrame = times[s].Order().ElementAt(Rounds / 2),
            shareOfOneCore = times[s].Order().ElementAt(Rounds / 2) * AudioFormat.SampleRate / 1e9,
            ofAllSounding = times[s].Zip(times[Sounding.Length - 1], (a, b) => a / b).Order().ElementAt(Rounds / 2),
        }).ToArray();
    }

    private sealed class Stage
    {
        private static readonly SourceId Source = new("pads");
        private readonly PadPlayer _player = new();
        private readonly PadInlet _inlet;
        private readonly float[] _left = new float[AudioFormat.BlockFrames];
        private readonly float[] _right = new float[AudioFormat.BlockFrames];
        private readonly (ReadyPad Ready, SoundBuffer Sound)[] _pads;
        private long _frame;
        private long _blocks;

        public Stage(int voices, bool steals)
        {
            (Voices, Steals) = (voices, steals);
            _inlet = _player.Inlet(Source);
            var random = new Random(11);
            float[] Noise() => [.. Enumerable.Range(0, Frames).Select(_ => (random.NextSingle() - 0.5f) / 32)];
            _pads = [.. Enumerable.Range(0, PadPlayer.Voices).Select(i =>
            {
                var sound = new SoundBuffer(Noise(), Noise());
                return (ReadyPad.Of(new Pad { Id = new($"p{i}"), Name = $"p{i}", Sound = new('0', 64), Source = Source, End = 900_000, Play = steals ? PadPlay.Over : PadPlay.Loop }, sound), sound);
            })];
            Press(voices);
        }

        public int Voices { get; }

        public bool Steals { get; }

        /// <summary>Nanoseconds for a frame. The orders are made before the clock runs: whoever presses makes them, on another thread.</summary>
        public double Run(int blocks)
        {
            var time = 0L;
            for (var b = 0; b < blocks; b++)
            {
                if (Steals && _blocks++ % 10 == 0)
                {
                    Press(PadPlayer.Voices);
                }

                var begun = Stopwatch.GetTimestamp();
                _inlet.Read(_frame, _left, _right);
                time += Stopwatch.GetTimestamp() - begun;
                _frame += AudioFormat.BlockFrames;
            }

            return time * 1e9 / Stopwatch.Frequency / ((double)blocks * AudioFormat.BlockFrames);
        }

        private void Press(int count)
        {
            for (var i = 0; i < count; i++)
            {
                _player.Post(new PadOrder.Press(_frame, _pads[i].Ready, _pads[i].Sound, _inlet));
            }
        }
    }
}
