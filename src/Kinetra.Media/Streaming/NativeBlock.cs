using System.Runtime.InteropServices;

namespace Kinetra.Media.Streaming;

/// <summary>Zeroed memory for a structure of a C library's, which alone knows what is in it.</summary>
/// <param name="bytes">At least as many as the structure has.</param>
sealed unsafe class NativeBlock(int bytes = NativeBlock.Roomy) : IDisposable
{
    /// <summary>More than any structure of the Ogg and Vorbis libraries has: the largest has 408 bytes.</summary>
    public const int Roomy = 1_024;

    private void* _at = NativeMemory.AllocZeroed((nuint)bytes);

    /// <summary>Where it is.</summary>
    public nint At => (nint)_at;

    /// <summary>As one of these.</summary>
    public ref T As<T>()
        where T : unmanaged => ref *(T*)_at;

    public void Dispose()
    {
        NativeMemory.Free(_at);
        _at = null;
    }
}
