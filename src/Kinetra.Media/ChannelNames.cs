using System.Globalization;
using System.Text;
using System.Xml.Linq;

namespace Kinetra.Media;

/// <summary>The names of a file’s channels as an iXML chunk has them. Source: iXML specification 2.10 (TRACK_LIST).</summary>
static class ChannelNames
{
    /// <summary>The chunk, UTF-8, an even number of bytes.</summary>
    public static byte[] Ixml(TakeFileInfo info)
    {
        var tracks = new XElement("TRACK_LIST", new XElement("TRACK_COUNT", info.Channels.Length));
        foreach (var (index, name) in info.Channels.Index())
        {
            var number = (index + 1).ToString(CultureInfo.InvariantCulture);
            tracks.Add(new XElement("TRACK", new XElement("CHANNEL_INDEX", number), new XElement("INTERLEAVE_INDEX", number), new XElement("NAME", Plain(name))));
        }

        var document = new XElement("BWFXML", new XElement("IXML_VERSION", "2.10"), new XElement("PROJECT", Plain(info.Title)), tracks);
        var bytes = Encoding.UTF8.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + document + "\n");
        return bytes.Length % 2 == 0 ? bytes : [.. bytes, (byte)'\n'];
    }

    // XML has no control characters and no halves of pairs.
    private static string Plain(string text) => string.Concat(text.EnumerateRunes().Where(r => !Rune.IsControl(r) && r.Value != 0xFFFD && r.Value is not (0xFFFE or 0xFFFF)));
}
