using System.Diagnostics;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Sockets;

/// <summary>What nobody foresaw in a call of a window is logged once, by the trace that the window is told; what breaks a rule is only told.</summary>
public sealed partial class HubErrors(ILogger<HubErrors> log) : IHubFilter
{
    /// <inheritdoc/>
    public async ValueTask<object?> InvokeMethodAsync(HubInvocationContext invocationContext, Func<HubInvocationContext, ValueTask<object?>> next)
    {
        ArgumentNullException.ThrowIfNull(invocationContext);
        ArgumentNullException.ThrowIfNull(next);
        try
        {
            return await next(invocationContext);
        }
        catch (Exception e) when (e is not HubException and not OutOfMemoryException)
        {
            var trace = Activity.Current?.Id ?? invocationContext.Context.ConnectionId;
            LogFailed(log, e, invocationContext.HubMethodName, trace);
            throw new HubException($"Something went wrong that nobody foresaw; the server's log says more under {trace}.");
        }
    }

    /// <inheritdoc/>
    public async Task OnDisconnectedAsync(HubLifetimeContext context, Exception? exception, Func<HubLifetimeContext, Exception?, Task> next)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(next);
        try
        {
            await next(context, exception);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogFailed(log, e, nameof(OnDisconnectedAsync), context.Context.ConnectionId);
            throw;
        }
    }

    [LoggerMessage(LogLevel.Error, "{Method} of a window failed. Trace {Trace}.")]
    private static partial void LogFailed(ILogger log, Exception cause, string method, string trace);
}
