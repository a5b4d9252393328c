using System.Reflection;
using System.Runtime.CompilerServices;

namespace Kinetra.Core;

/// <summary>
/// Fills the tables and coefficients of everything that computes before any of it runs. Inner loops are compiled at their best at once; where
/// that happened before the statics that they read were there, the first call ran without them, and gave other numbers than every later one.
/// No result may depend on what ran before.
/// </summary>
static class Statics
{
    private static readonly string[] Rooms = ["Kinetra.Core.Dsp", "Kinetra.Core.Metering", "Kinetra.Core.Processors", "Kinetra.Core.Clocks"];

#pragma warning disable CA2255 // Whoever loads this assembly computes with it.
    [ModuleInitializer]
    public static void Fill()
#pragma warning restore CA2255
    {
        foreach (var type in Assembly.GetExecutingAssembly().GetTypes().Where(t => !t.ContainsGenericParameters && Rooms.Contains(t.Namespace)))
        {
            RuntimeHelpers.RunClassConstructor(type.TypeHandle);
        }
    }
}
