namespace Kinetra.Media.Streaming;

/// <summary>
/// FLAC out of Ogg as FLAC by itself, one logical stream after the other as if they were one, which the library does not read: of every one but the first
/// the heads are left out. Source: the mapping of FLAC in Ogg, version 1.0.
/// </summary>
sealed class OggFlac(Stream from) : PassingStream
{
    // Before the marker of the first packet: its type, its name, the mapping's version and the number of heads.
    private const int Prefix = 9;

    private readonly OggPackets _packets = new(from);
    private byte[] _packet = [];
    private int _taken;
    private bool _isBegun;

    public override int Read(Span<byte> buffer)
    {
        while (_taken == _packet.Length)
        {
            if (!_packets.Next())
            {
                return 0;
            }

            var bytes = _packets.Bytes;

            // Sound begins with the first bits of its sync code; nothing else does.
            var isHead = bytes.IsEmpty || bytes[0] != 0xFF;
            if (_packets.IsFirst && !_isBegun)
            {
                (_packet, _taken) = (bytes.Length > Prefix ? bytes[Prefix..].ToArray() : [], 0);
            }
            else if (!isHead || !_isBegun)
            {
                (_packet, _taken) = (bytes.ToArray(), 0);
            }

            _isBegun |= !isHead;
        }

        var count = Math.Min(buffer.Length, _packet.Length - _taken);
        _packet.AsSpan(_taken, count).CopyTo(buffer);
        _taken += count;
        return count;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _packets.Dispose();
        }

        base.Dispose(disposing);
    }
}
