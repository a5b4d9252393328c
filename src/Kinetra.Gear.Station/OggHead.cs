using System.Runtime.InteropServices;

namespace Kinetra.Gear.Station;

/// <summary>
/// Keeps what somebody needs who begins to listen in the middle of an Ogg stream (RFC 3533): the pages before the first sound of the stream that goes
/// on now. Takes bytes in pieces of any length. Not safe for several threads.
/// </summary>
sealed class OggHead
{
    private const int HeaderBytes = 27;

    // Beyond that it is no head: nothing is kept of it.
    private const int MostBytes = 1 << 20;

    private readonly List<byte> _page = [];
    private readonly List<byte> _head = [];
    private bool _isOpen;

    /// <summary>The pages to begin with; none where there was none yet.</summary>
    public byte[] Bytes => [.. _head];

    /// <summary>How many of the bytes that came belong to a page that has not ended.</summary>
    public int Unfinished => _page.Count;

    /// <summary>Takes bytes.</summary>
    public void Take(ReadOnlySpan<byte> bytes)
    {
        _page.AddRange(bytes);
        while (Next() is { } length)
        {
            // A first page of a stream begins a new head; sound has a place in time, what stands before it has none.
            var (isFirst, granule) = ((_page[5] & 2) != 0, BitConverter.ToInt64([.. _page.Skip(6).Take(8)]));
            if (isFirst)
            {
                _head.Clear();
                _isOpen = true;
            }

            _isOpen &= granule == 0 && _head.Count + length <= MostBytes;
            if (_isOpen)
            {
                _head.AddRange(_page.Take(length));
            }

            _page.RemoveRange(0, length);
        }
    }

    // The length of the page that is there whole; null: there is none.
    private int? Next()
    {
        // What is no page is passed over; the last three bytes may be the beginning of one.
        var at = CollectionsMarshal.AsSpan(_page).IndexOf("OggS"u8);
        _page.RemoveRange(0, at >= 0 ? at : Math.Max(0, _page.Count - 3));

        if (_page.Count < HeaderBytes || _page.Count < HeaderBytes + _page[26])
        {
            return null;
        }

        var length = HeaderBytes + _page[26];
        for (var i = 0; i < _page[26]; i++)
        {
            length += _page[HeaderBytes + i];
        }

        return _page.Count < length ? null : length;
    }
}
