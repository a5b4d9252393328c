using Kinetra.Data;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>
/// Hush: silences every way out, or lets it sound again. It outlives the server: who hushed the show and is not there any more must
/// not be heard after a crash.
/// </summary>
public sealed class HushSwitch(EngineHost host, ServerOptions options)
{
    private readonly Lock _storing = new();

    /// <summary>Whether every listener hears silence now.</summary>
    public bool IsOn => host.IsRunning && host.Engine.Hushed;

    /// <summary>Whether it was on when the server ended; a mark in the data folder tells it, with the database away too.</summary>
    public bool WasOn => File.Exists(Mark);

    /// <summary>Silence, or sound again: heard at once, waiting for no lock, plan, fade or disk; and then remembered.</summary>
    /// <exception cref="NotKeptException">It is so, but cannot be remembered.</exception>
    public void Set(bool on)
    {
        host.Engine.Hushed = on;
        lock (_storing)
        {
            // Of two hands at once, what is heard now counts, not who came here last.
            on = host.Engine.Hushed;
            try
            {
                if (on)
                {
                    using var mark = new FileStream(Mark, FileMode.Create, FileAccess.Write);
                    mark.Flush(flushToDisk: true);
                }
                else
                {
                    File.Delete(Mark);
                }

                FolderSync.Flush(options.DataFolder);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                throw new NotKeptException($"{(on ? "All is silent" : "All sounds again")} now, but it could not be noted for after a restart.", e);
            }
        }
    }

    private string Mark => Path.Combine(options.DataFolder, "hushed");
}
