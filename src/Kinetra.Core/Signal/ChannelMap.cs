using System.Collections.Immutable;

namespace Kinetra.Core.Signal;

/// <summary>One channel that goes into another.</summary>
/// <param name="From">Which channel, from 0.</param>
/// <param name="To">Into which, from 0.</param>
/// <param name="Gain">By which factor; negative: inverted.</param>
public readonly record struct Cell(int From, int To, double Gain);

/// <summary>
/// How the channels of one point go into those of another: a sparse matrix. Picking, folding, panning, balance, polarity and
/// placing are all of this form.
/// </summary>
/// <param name="From">How many channels there are to take from.</param>
/// <param name="To">How many there are to go into.</param>
/// <param name="Cells">What goes where; each pair of channels at most once.</param>
public sealed record ChannelMap(int From, int To, ImmutableArray<Cell> Cells)
{
    /// <summary>Each channel into the same one.</summary>
    public static ChannelMap Straight(int channels) => new(channels, channels, [.. Enumerable.Range(0, channels).Select(c => new Cell(c, c, 1))]);

    /// <summary>Some of the channels, in that order.</summary>
    public static ChannelMap Pick(int from, params ReadOnlySpan<int> channels)
    {
        var cells = ImmutableArray.CreateBuilder<Cell>(channels.Length);
        for (var c = 0; c < channels.Length; c++)
        {
            cells.Add(new Cell(channels[c], c, 1));
        }

        return new(from, channels.Length, cells.ToImmutable());
    }

    /// <summary>
    /// One or two channels into left and right. One: sine/cosine law, −3.01 dB in both at the centre, constant power, so that mono to
    /// stereo keeps its loudness. Two: balance; the centre passes both unchanged, to a side the other one falls linearly to nothing.
    /// </summary>
    /// <param name="from">1 or 2.</param>
    /// <param name="pan">−1 (left) … +1 (right).</param>
    public static ChannelMap Pan(int from, double pan)
    {
        if (from == 2)
        {
            return new(2, 2, [new(0, 0, Math.Min(1, 1 - pan)), new(1, 1, Math.Min(1, 1 + pan))]);
        }

        var angle = (pan + 1) * Math.PI / 4;
        // Of a right angle the cosine is not quite nothing here.
        return new(1, 2, [new(0, 0, pan == 1 ? 0 : Math.Cos(angle)), new(0, 1, Math.Sin(angle))]);
    }

    /// <summary>
    /// One or two channels into two of several, or folded into one: of two the mean, so that what both have in common keeps its level.
    /// </summary>
    /// <param name="from">1 or 2.</param>
    /// <param name="to">How many channels there are.</param>
    /// <param name="left">Which one left, or the only channel, goes into.</param>
    /// <param name="right">Which one right goes into; null: all goes into <paramref name="left"/>.</param>
    public static ChannelMap Into(int from, int to, int left, int? right) => new(from, to, right is { } other
        ? [new(0, left, 1), new(from - 1, other, 1)]
        : [.. Enumerable.Range(0, from).Select(c => new Cell(c, left, 1.0 / from))]);

    /// <summary>All channels, one after the other from one on; those for which there is no room fall away.</summary>
    public static ChannelMap Onward(int from, int to, int first) =>
        new(from, to, [.. Enumerable.Range(0, Math.Clamp(to - first, 0, from)).Select(c => new Cell(c, first + c, 1))]);

    /// <summary>This one, and then the other: what comes together by several ways is summed.</summary>
    public ChannelMap Then(ChannelMap next)
    {
        ArgumentNullException.ThrowIfNull(next);
        var cells = from one in Cells
                    from other in next.Cells
                    where one.To == other.From
                    group one.Gain * other.Gain by (one.From, other.To) into ways
                    select new Cell(ways.Key.From, ways.Key.To, ways.Sum());
        return new(From, next.To, [.. cells]);
    }

    /// <summary>The same, louder or softer.</summary>
    public ChannelMap Times(double factor) => factor == 1 ? this : this with { Cells = [.. Cells.Select(c => c with { Gain = c.Gain * factor })] };

    /// <inheritdoc/>
    public bool Equals(ChannelMap? other) => other is not null && From == other.From && To == other.To && Cells.AsSpan().SequenceEqual(other.Cells.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(From, To, Cells.Length);
}
