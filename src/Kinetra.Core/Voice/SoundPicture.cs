using Kinetra.Core.Engine;

namespace Kinetra.Core.Voice;

/// <summary>A sound as it is drawn: its waveform, and its spectrogram.</summary>
/// <param name="Columns">Pictures' columns, each of the same time.</param>
/// <param name="Rows">The spectrogram's rows, from <see cref="Lowest"/> to <see cref="Highest"/> in equal steps of pitch.</param>
/// <param name="Levels">Column after column, each from the lowest row up: 0 is <see cref="Softest"/> or less, 255 is 0 dBFS, of the power in the row's band.</param>
/// <param name="Least">The lowest sample of each column, −127 … 127 for −1 … 1, as two's complement.</param>
/// <param name="Most">The highest, likewise.</param>
public sealed record SoundPicture(int Columns, int Rows, byte[] Levels, byte[] Least, byte[] Most)
{
    /// <summary>The most columns.</summary>
    public const int MostColumns = 480;

    /// <summary>Rows of every spectrogram.</summary>
    public const int AllRows = 72;

    /// <summary>What the rows span, Hz.</summary>
    public const double Lowest = 60, Highest = 16_000;

    /// <summary>What is drawn as nothing, dBFS.</summary>
    public const double Softest = -100;

    /// <summary>Draws a sound.</summary>
    public static SoundPicture Of(SoundBuffer sound, ShortTimeSpectra spectra)
    {
        ArgumentNullException.ThrowIfNull(sound);
        ArgumentNullException.ThrowIfNull(spectra);
        var columns = Math.Min(MostColumns, spectra.Count);
        var (levels, least, most) = (new byte[columns * AllRows], new byte[columns], new byte[columns]);
        for (var c = 0; c < columns; c++)
        {
            var (from, to) = (Part(c, columns, spectra.Count), Math.Max(Part(c, columns, spectra.Count) + 1, Part(c + 1, columns, spectra.Count)));
            for (var row = 0; row < AllRows; row++)
            {
                var power = 0.0;
                for (var i = from; i < to; i++)
                {
                    power = Math.Max(power, Band(spectra, i, row));
                }

                levels[(c * AllRows) + row] = (byte)Math.Clamp(255 * (1 - (10 * Math.Log10(power) / Softest)), 0, 255);
            }

            var (first, end) = (Part(c, columns, sound.Frames), Part(c + 1, columns, sound.Frames));
            var (low, high) = (0f, 0f);
            foreach (var channel in new[] { sound.Left, sound.Right })
            {
                foreach (var sample in channel.AsSpan(channel is null ? 0 : first, channel is null ? 0 : end - first))
                {
                    (low, high) = (Math.Min(low, sample), Math.Max(high, sample));
                }
            }

            (least[c], most[c]) = (Byte(low), Byte(high));
        }

        return new(columns, AllRows, levels, least, most);
    }

    private static int Part(int column, int columns, int count) => (int)((long)column * count / columns);

    private static byte Byte(float sample) => unchecked((byte)(sbyte)Math.Round(Math.Clamp(sample, -1f, 1f) * 127));

    // At the low end a row is narrower than a bin: it has the bin's power.
    private static double Band(ShortTimeSpectra spectra, int window, int row)
    {
        var (from, to) = (Frequency(row), Frequency(row + 1));
        var powers = spectra.At(window);
        var (first, end) = ((int)Math.Round(from / ShortTimeSpectra.BinWidth), (int)Math.Round(to / ShortTimeSpectra.BinWidth));
        var sum = 0.0;
        for (var k = first; k < Math.Max(end, first + 1); k++)
        {
            sum += powers[k];
        }

        return sum;
    }

    private static double Frequency(int row) => Lowest * Math.Pow(Highest / Lowest, (double)row / AllRows);
}
