using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Logging.Console;

namespace Kinetra.Server.Hosting.Secrets;

/// <summary>The log: one line for each thing that happened, without any secret that is known, whoever wrote it and however deep in an error it stands.</summary>
public sealed class RedactedConsole(Redaction redaction) : ConsoleFormatter(FormatterName)
{
    public const string FormatterName = "redacted";

    public override void Write<TState>(in LogEntry<TState> logEntry, IExternalScopeProvider? scopeProvider, TextWriter textWriter)
    {
        var message = logEntry.Formatter(logEntry.State, logEntry.Exception);
        var line = $"{Word(logEntry.LogLevel)}: {logEntry.Category}[{logEntry.EventId.Id}] {message} {logEntry.Exception}".TrimEnd();
        textWriter.WriteLine(redaction.Hide(line).ReplaceLineEndings(" "));
    }

    private static string Word(LogLevel level) => level switch
    {
        LogLevel.Trace => "trce",
        LogLevel.Debug => "dbug",
        LogLevel.Information => "info",
        LogLevel.Warning => "warn",
        LogLevel.Error => "fail",
        _ => "crit",
    };
}
