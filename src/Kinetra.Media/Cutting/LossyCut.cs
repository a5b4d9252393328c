using Kinetra.Core.Rigs;

namespace Kinetra.Media.Cutting;

/// <summary>
/// Cuts a part out of a file that is coded with loss without coding it once more: its packets stay as they are. A file of packets begins and ends between
/// two of them; what is there beside the part is told to be left out when it is played, to the sample.
/// </summary>
public static class LossyCut
{
    /// <summary>The shortest part, frames: of one that begins and ends in the same packet programs leave out one side only.</summary>
    public const int Fewest = 4_800;

    /// <summary>Writes the part, where that can be done.</summary>
    /// <param name="from">The file; as <see cref="TakeFileWriter"/> makes it.</param>
    /// <param name="to">Where to; an existing file is replaced.</param>
    /// <param name="form">What both are.</param>
    /// <param name="start">The first frame of the part, at 48 kHz.</param>
    /// <param name="frames">How many it has.</param>
    /// <param name="info">Title and time of the part.</param>
    /// <param name="cancel">Gives up, at any packet.</param>
    /// <returns>False: it has to be coded, since the form is none of packets, it has fewer frames than <see cref="Fewest"/>, the file ends before the part does, is gone, or is not as it was made. Then there is no file.</returns>
    /// <exception cref="IOException">One cannot be read, or the other not be written.</exception>
    public static bool TryCut(string from, string to, TakeForm form, long start, long frames, TakeFileInfo info, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(info);
        if (form is not (TakeForm.Mp3 or TakeForm.Opus) || frames < Fewest || !File.Exists(from))
        {
            return false;
        }

        var isCut = false;
        try
        {
            using var source = new FileStream(from, FileMode.Open, FileAccess.Read, FileShare.Read, 1 << 16);
            using var target = new FileStream(to, FileMode.Create, FileAccess.ReadWrite, FileShare.None, 1 << 16);
            isCut = form == TakeForm.Opus
                ? OpusCut.Cut(source, target, start, frames, info, cancel)
                : Mp3Cut.Cut(source, target, start, frames, info, cancel);
        }
        catch (SoundFileException)
        {
            // No such file as it should be: whoever decodes it says what is wrong.
        }
        finally
        {
            if (!isCut)
            {
                File.Delete(to);
            }
        }

        return isCut;
    }
}
