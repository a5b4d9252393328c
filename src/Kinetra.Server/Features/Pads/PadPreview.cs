using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;

namespace Kinetra.Server.Features.Pads;

/// <summary>A pad by itself, played once from its beginning to its end by a player of its own: with its gain and its fades, in stereo.</summary>
/// <param name="pad">The pad.</param>
/// <param name="sound">Its sound; waits for the disk.</param>
sealed class PadPreview(Pad pad, ISoundReader sound)
{
    /// <summary>Writes it as WAV, 16 bits, block by block: a long one begins to be heard at once.</summary>
    public async Task WriteAsync(Stream to)
    {
        var player = new PadPlayer();
        var source = new SourceId("preview");
        var ready = ReadyPad.Of(pad with { Play = PadPlay.Once, Dim = 0 }, sound);
        player.Post(new PadOrder.Press(0, ready, sound, player.Inlet(source)));
        var inlet = player.Inlet(source);
        await to.WriteAsync(PlainWav.Header(2, ready.Frames));
        float[] left = new float[AudioFormat.BlockFrames], right = new float[AudioFormat.BlockFrames];
        var bytes = new byte[AudioFormat.BlockFrames * 4];
        for (var frame = 0; frame < ready.Frames; frame += AudioFormat.BlockFrames)
        {
            inlet.Read(frame, left, right);
            var count = Math.Min(AudioFormat.BlockFrames, ready.Frames - frame);
            for (var i = 0; i < count; i++)
            {
                PlainWav.Write(bytes.AsSpan(4 * i), left[i]);
                PlainWav.Write(bytes.AsSpan((4 * i) + 2), right[i]);
            }

            await to.WriteAsync(bytes.AsMemory(0, 4 * count));
        }
    }
}
