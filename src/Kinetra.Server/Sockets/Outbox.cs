using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>
/// What waits to be told to one window. Nobody who has something to tell waits for a window that does not read: of two messages of one
/// kind the newer replaces the older, and a window that is too far behind is told to fetch everything instead.
/// </summary>
public sealed class Outbox(IShowClient window)
{
    /// <summary>The most messages that wait.</summary>
    public const int MaxWaiting = 64;

    private readonly Lock _lock = new();
    private readonly OrderedDictionary<string, Func<IShowClient, Task>> _waiting = [];
    private bool _isTelling;

    /// <summary>How many messages wait now.</summary>
    public int Waiting
    {
        get
        {
            lock (_lock)
            {
                return _waiting.Count;
            }
        }
    }

    /// <summary>Tells it when the window has taken what was before. Any thread; does not wait.</summary>
    /// <param name="kind">What it is about: a waiting message of the same kind is out of date.</param>
    /// <param name="tell">Tells it.</param>
    public void Post(string kind, Func<IShowClient, Task> tell)
    {
        lock (_lock)
        {
            if (_waiting.ContainsKey(Everything))
            {
                // It is told to fetch everything, and has not begun to.
                return;
            }

            _waiting.Remove(kind);
            if (_waiting.Count == MaxWaiting)
            {
                WaitForEverything();
            }
            else
            {
                _waiting.Add(kind, tell);
            }

            Begin();
        }
    }

    /// <summary>Tells it to fetch everything, instead of all that waits. Any thread; does not wait.</summary>
    public void PostEverything()
    {
        lock (_lock)
        {
            WaitForEverything();
            Begin();
        }
    }

    private const string Everything = "everything";

    private void WaitForEverything()
    {
        _waiting.Clear();
        _waiting.Add(Everything, w => w.EverythingChanged());
    }

    private void Begin()
    {
        if (!_isTelling)
        {
            // By itself from here on; nothing it meets is anybody else's.
            _isTelling = true;
            _ = Task.Run(TellAsync);
        }
    }

    private async Task TellAsync()
    {
        while (true)
        {
            Func<IShowClient, Task> tell;
            lock (_lock)
            {
                if (_waiting.Count == 0)
                {
                    _isTelling = false;
                    return;
                }

                tell = _waiting.GetAt(0).Value;
                _waiting.RemoveAt(0);
            }

            try
            {
                await tell(window);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // The window has gone: its connection ends, and what else waits is told to nobody.
            }
        }
    }
}

/// <summary>The outboxes of all windows.</summary>
public sealed class Outboxes(IHubContext<ShowHub, IShowClient> hub)
{
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, Outbox> _all = new();

    /// <summary>
    /// A window has connected. The first that it is told is to fetch everything: what changed between its connecting and this moment
    /// was told to nobody.
    /// </summary>
    public void Open(string connection)
    {
        var outbox = new Outbox(hub.Clients.Client(connection));
        _all[connection] = outbox;
        outbox.PostEverything();
    }

    /// <summary>A window has gone.</summary>
    public void Close(string connection) => _all.TryRemove(connection, out _);

    /// <summary>Tells all windows. Any thread; does not wait.</summary>
    /// <param name="kind">What it is about: a waiting message of the same kind is out of date.</param>
    /// <param name="tell">Tells one.</param>
    /// <param name="except">The connection that knows already.</param>
    public void Post(string kind, Func<IShowClient, Task> tell, string? except = null)
    {
        foreach (var (connection, outbox) in _all)
        {
            if (connection != except)
            {
                outbox.Post(kind, tell);
            }
        }
    }
}
