namespace Kinetra.Media.Streaming;

/// <summary>Bytes that come once, one after the other, and are read.</summary>
public abstract class PassingStream : Stream
{
    /// <inheritdoc/>
    public sealed override bool CanRead => true;

    /// <inheritdoc/>
    public sealed override bool CanSeek => false;

    /// <inheritdoc/>
    public sealed override bool CanWrite => false;

    /// <inheritdoc/>
    public sealed override long Length => throw new NotSupportedException();

    /// <inheritdoc/>
    public sealed override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }

    /// <inheritdoc/>
    public abstract override int Read(Span<byte> buffer);

    /// <inheritdoc/>
    public sealed override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    /// <inheritdoc/>
    public sealed override void Flush()
    {
    }

    /// <inheritdoc/>
    public sealed override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    /// <inheritdoc/>
    public sealed override void SetLength(long value) => throw new NotSupportedException();

    /// <inheritdoc/>
    public sealed override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
