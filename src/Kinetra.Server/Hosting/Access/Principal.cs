namespace Kinetra.Server.Hosting.Access;

/// <summary>On whose behalf a request comes: a feature asks for it where it matters who does something.</summary>
public abstract record Principal
{
    private Principal()
    {
    }

    /// <summary>Who that is, in words.</summary>
    public abstract string Words { get; }

    /// <summary>Somebody who sits at this machine: may do everything.</summary>
    public sealed record ThisMachine : Principal
    {
        /// <inheritdoc/>
        public override string Words => "this machine";
    }

    /// <summary>A device that shows a second screen: may do what it was given, once it is known.</summary>
    public sealed record Device : Principal
    {
        /// <inheritdoc/>
        public override string Words => "a device";
    }
}
