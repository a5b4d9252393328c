using Kinetra.Core.Metering;

namespace Kinetra.Core.Engine;

/// <summary>What all nodes need to know of the block that is being computed.</summary>
/// <param name="Frame">The engine frame that it begins with.</param>
/// <param name="Hop">Where in it a hop of the meters ends.</param>
/// <param name="Exits">What all sound passes on its way out.</param>
/// <param name="IsLeaving">True: it is of the show before, while another is being opened.</param>
/// <param name="Faults">Where what fails is told.</param>
readonly record struct BlockWork(long Frame, HopSplit Hop, Exits Exits, bool IsLeaving, Faults Faults);
