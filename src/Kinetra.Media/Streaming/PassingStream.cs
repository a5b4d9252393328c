namespace Kinetra.Media.Streaming;

/// <summary>Bytes that come once, one after the other, and are read.</summary>
abstract class PassingStream : Stream
{
    public sealed override bool CanRead => true;

    public sealed override bool CanSeek => false;

    public sealed override bool CanWrite => false;

    public sealed override long Length => throw new NotSupportedException();

    public sealed override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

    public abstract override int Read(Span<byte> buffer);

    public sealed override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public sealed override void Flush()
    {
    }

    public sealed override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public sealed override void SetLength(long value) => throw new NotSupportedException();

    public sealed override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
