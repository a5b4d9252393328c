using System.Buffers;
using Kinetra.Core.Editing;

namespace Kinetra.Server.Features.Analysis;

/// <summary>Something that can be looked at while it changes. What nobody looks at is not computed.</summary>
interface IAnalysisTopic
{
    /// <summary>By what a window asks for it.</summary>
    string Name { get; }

    /// <summary>Begins to look. Any thread.</summary>
    /// <param name="of">What it is to be of; null: the topic has only one.</param>
    /// <param name="problem">Why it cannot be looked at.</param>
    /// <returns>Null where there is a problem.</returns>
    IAnalysis? Open(string? of, out RigProblem? problem);
}

/// <summary>One look, for one window. Used by one thread at a time, never the engine's; disposed of when nobody looks any more.</summary>
interface IAnalysis : IDisposable
{
    /// <summary>What the window has to know to read the values that follow; null: the same as before. Asked before every <see cref="TryWrite"/>.</summary>
    object? NextLayout();

    /// <summary>Writes the newest values: little-endian, a multiple of four bytes.</summary>
    /// <returns>False: nothing is new since the last time.</returns>
    bool TryWrite(IBufferWriter<byte> values);
}
