using Kinetra.Core.Rigs;

namespace Kinetra.Server.Features.Addresses;

/// <summary>What an address's ending asks for.</summary>
static class LiveForms
{
    /// <summary>Of what has a bit rate, kbit/s: nobody hears a difference, and it stays on this machine.</summary>
    public const int Kilobits = 256;

    private static readonly (string Ending, StreamForm Form)[] All =
        [("wav", StreamForm.Wav), ("flac", StreamForm.Flac), ("ogg", StreamForm.OggOpus), ("mp3", StreamForm.Mp3)];

    /// <summary>The endings that there are.</summary>
    public static IEnumerable<string> Endings => All.Select(a => a.Ending);

    /// <summary>What an ending asks for; null: there is none such.</summary>
    public static StreamForm? Of(string ending) => All.Where(a => a.Ending == ending).Select(a => (StreamForm?)a.Form).FirstOrDefault();
}
