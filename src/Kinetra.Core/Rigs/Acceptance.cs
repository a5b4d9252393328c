namespace Kinetra.Core.Rigs;

/// <summary>Something that was found and that a person has accepted: it stays quiet until its facts change.</summary>
/// <param name="Key">What the finding stays the same by; 1–<see cref="RigLimits.FindingKey"/> characters.</param>
/// <param name="Facts">What was so, without names; 1–<see cref="RigLimits.FindingFacts"/> characters.</param>
public sealed record Acceptance(string Key, string Facts);
