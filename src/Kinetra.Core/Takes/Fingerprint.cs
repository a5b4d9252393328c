using System.Collections.Immutable;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Takes;

/// <summary>What one second of a sound was, in a few bytes.</summary>
/// <param name="Hash">Of its samples, as a file without loss has them; 0 where the form of the file has loss.</param>
/// <param name="MeanSquare">Its mean square over all channels.</param>
/// <param name="IsKnown">False: a part of it is not known.</param>
public readonly record struct SecondPrint(ulong Hash, float MeanSquare, bool IsKnown)
{
    /// <summary>True where it sounded: above −70 dBFS.</summary>
    public bool Sounds => MeanSquare > 1e-7f;
}

/// <summary>Where in the engine's sound a stretch of a track lies.</summary>
/// <param name="Take">The frame of the take with which it begins.</param>
/// <param name="Sound">The frame of the engine's sound, from the track's own zero, that stands there; −1: until the next stretch, it is not that sound alone.</param>
public readonly record struct Stretch(long Take, long Sound);

/// <summary>
/// Takes prints of a sound second by second. One stands beside the engine while a take is recorded, and hears what the engine gives by itself; the other reads
/// what is in the file. Not safe for several threads.
/// </summary>
/// <param name="channels">1 or 2.</param>
/// <param name="form">What the file is written as.</param>
public sealed class Printing(int channels, TakeForm form)
{
    /// <summary>Frames of a second.</summary>
    public const int Second = AudioFormat.SampleRate;

    private const ulong Basis = 14_695_981_039_346_656_037;
    private const ulong Prime = 1_099_511_628_211;

    private readonly List<SecondPrint> _seconds = [];
    private ulong _hash = Basis;
    private double _energy;
    private int _frames;
    private bool _isKnown = true;

    /// <summary>Of whole seconds so far.</summary>
    public IReadOnlyList<SecondPrint> Seconds => _seconds;

    /// <summary>True where a file of a form has every sample as it was.</summary>
    public static bool IsExact(TakeForm form) => form is TakeForm.Wav24 or TakeForm.Wav32 or TakeForm.Flac;

    /// <summary>Takes in what comes next.</summary>
    /// <param name="left">The left, or the only, channel.</param>
    /// <param name="right">The right one, as long; not looked at where there is one.</param>
    public void Append(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        for (var n = 0; n < left.Length; n++)
        {
            Add(left[n]);
            if (channels == 2)
            {
                Add(right[n]);
            }

            Close();
        }
    }

    /// <summary>Of so many frames nothing is known.</summary>
    public void AppendUnknown(long frames)
    {
        for (var n = 0L; n < frames; n++)
        {
            _isKnown = false;
            Close();
        }
    }

    /// <summary>Silence of a length.</summary>
    public void AppendSilence(long frames)
    {
        for (var n = 0L; n < frames; n++)
        {
            Append([0f], [0f]);
        }
    }

    private void Add(float sample)
    {
        _energy += (double)sample * sample;
        _hash = form switch
        {
            TakeForm.Wav32 => (_hash ^ (uint)BitConverter.SingleToInt32Bits(sample)) * Prime,
            TakeForm.Wav24 or TakeForm.Flac => (_hash ^ (uint)(int)Math.Clamp(MathF.Round(sample * 8_388_608f, MidpointRounding.ToEven), -8_388_608f, 8_388_607f)) * Prime,
            _ => 0,
        };
    }

    private void Close()
    {
        if (++_frames < Second)
        {
            return;
        }

        _seconds.Add(new(_hash, (float)(_energy / (Second * channels)), _isKnown));
        (_hash, _energy, _frames, _isKnown) = (Basis, 0, 0, true);
    }
}
