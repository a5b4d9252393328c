using System.Collections.Immutable;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Listening;

/// <summary>A window that plays what mixes give to one of its browser's outputs.</summary>
/// <param name="Device">The output, as the show's destinations name it.</param>
/// <param name="Window">The window's id.</param>
public sealed record BrowserPlayer(DeviceId Device, string Window);

/// <summary>Hears when a window begins to play a browser's output, and when it ends.</summary>
public interface IPlayerAudience
{
    /// <summary>Who plays what has changed.</summary>
    void PlayersChanged();
}

/// <summary>
/// Which window plays which of the browsers' outputs: one at a time, or it would be heard twice. Another takes it over on purpose only.
/// Any thread.
/// </summary>
public sealed class BrowserPlayers(IPlayerAudience audience)
{
    /// <summary>What the device of a browser's output begins with.</summary>
    public const string Prefix = "browser-";

    private readonly Lock _lock = new();
    private ImmutableDictionary<DeviceId, (string Window, object Session, Action Lost)> _held = ImmutableDictionary<DeviceId, (string, object, Action)>.Empty;

    /// <summary>All that are played now.</summary>
    public IEnumerable<BrowserPlayer> All => [.. _held.Select(h => new BrowserPlayer(h.Key, h.Value.Window))];

    /// <summary>Takes an output for a window.</summary>
    /// <param name="device">The output.</param>
    /// <param name="window">The window.</param>
    /// <param name="session">Its connection.</param>
    /// <param name="takeOver">True: another window loses it.</param>
    /// <param name="lost">Called once it is lost to another.</param>
    /// <returns>False: another window plays it.</returns>
    public bool TryTake(DeviceId device, string window, object session, bool takeOver, Action lost)
    {
        Action? loses = null;
        lock (_lock)
        {
            if (_held.TryGetValue(device, out var holder) && holder.Session != session)
            {
                if (!takeOver && holder.Window != window)
                {
                    return false;
                }

                loses = holder.Lost;
            }

            _held = _held.SetItem(device, (window, session, lost));
        }

        loses?.Invoke();
        audience.PlayersChanged();
        return true;
    }

    /// <summary>A connection plays nothing any more.</summary>
    public void Release(object session)
    {
        lock (_lock)
        {
            var left = _held.Where(h => h.Value.Session == session).Select(h => h.Key).ToList();
            if (left.Count == 0)
            {
                return;
            }

            _held = _held.RemoveRange(left);
        }

        audience.PlayersChanged();
    }
}
