using System.Collections.Immutable;
using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// What makes all else in one mix quieter while it sounds: sources whose inlets dim (<see cref="IDimming"/>) and that this mix hears. Whether it
/// hears them fades like any gain, so that muting one while it dims is no step either.
/// </summary>
sealed class MixDims
{
    private readonly ImmutableArray<Dimming> _all;
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly float[] _weights = new float[AudioFormat.BlockFrames];
    private long _frame = -1;
    private bool _isDimmed;

    /// <summary>Makes those of a plan.</summary>
    /// <param name="dimming">The inlets that dim, with their sends into the mix.</param>
    /// <param name="previous">Those of the plan before.</param>
    public MixDims(IReadOnlyList<(IDimming Inlet, LinkNode Send)> dimming, MixDims? previous)
    {
        _all =
        [
            .. dimming.Select(d => new Dimming(d.Inlet, d.Send, previous?._all.FirstOrDefault(p => p.Inlet == d.Inlet)?.Weight ?? new GainRamp(d.Send.IsSilent ? 0 : 1))),

            // What is no longer there fades.
            .. previous?._all.Where(p => p.Send is not null && dimming.All(d => d.Inlet != p.Inlet)).Select(p => p with { Send = null }) ?? [],
        ];
    }

    /// <summary>True where there is nothing to do, now and later.</summary>
    public bool IsEmpty => _all.IsEmpty;

    /// <summary>Engine thread: the factors of all else in the block that begins with a frame; empty: all are 1.</summary>
    public ReadOnlySpan<float> At(long frame)
    {
        if (frame != _frame)
        {
            _frame = frame;
            Make(frame);
        }

        return _isDimmed ? _factors : default(ReadOnlySpan<float>);
    }

    private void Make(long frame)
    {
        _isDimmed = false;
        foreach (var dimming in _all)
        {
            dimming.Weight.Target = dimming.Send is null or { IsSilent: true } ? 0 : 1;
            var dim = dimming.Inlet.DimAt(frame);
            if (dim.IsEmpty)
            {
                dimming.Weight.Arrive();
                continue;
            }

            if (!_isDimmed)
            {
                _factors.AsSpan().Fill(1);
                _isDimmed = true;
            }

            // factor · (1 + weight · (dim − 1))
            dimming.Weight.Fill(_weights);
            for (var i = 0; i < _weights.Length; i++)
            {
                _weights[i] = 1 + (_weights[i] * (dim[i] - 1));
            }

            TensorPrimitives.Multiply(_factors, _weights, _factors);
        }
    }

    private sealed record Dimming(IDimming Inlet, LinkNode? Send, GainRamp Weight);
}
