using System.Collections.Immutable;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Status;

/// <summary>How the server is.</summary>
/// <param name="WaitingFor">What it waits for before it can be used; null: ready.</param>
/// <param name="SampleRate">Frames a second.</param>
/// <param name="BlockFrames">Frames a block.</param>
/// <param name="Frame">The engine's next frame.</param>
/// <param name="Load">Computing time as a share of real time.</param>
/// <param name="LateBlocks">Blocks that came too late since the start.</param>
/// <param name="Hushed">Whether every listener hears silence.</param>
/// <param name="RecordingTake">The take that is being recorded, or null.</param>
/// <param name="DatabaseAway">Whether changes are kept in the local journal, since the database is away.</param>
/// <param name="WaitingSteps">How many changes wait there.</param>
/// <param name="Silenced">By name, what failed in the engine and is silent since then.</param>
/// <param name="LastLoss">When listeners last lost sound since the start, and why; null: never.</param>
/// <param name="Clock">What drives the engine: real or stepped.</param>
public sealed record ServerStatus(
    string? WaitingFor, int SampleRate, int BlockFrames, long Frame, double Load, long LateBlocks, bool Hushed, Guid? RecordingTake,
    bool DatabaseAway, int WaitingSteps, ImmutableArray<string> Silenced, SoundLoss? LastLoss, string Clock);

/// <summary>Puts the status together.</summary>
public sealed class StatusReport(ServerOptions options, EngineHost host, LiveShow live, HushSwitch hush, ShowLedger ledger, TakeRecorder recorder, EngineFaults faults, LossWatch losses, StartState state)
{
    /// <summary>The status now.</summary>
    public ServerStatus Now() => new(
        state.WaitingFor,
        AudioFormat.SampleRate,
        AudioFormat.BlockFrames,
        host.IsRunning ? host.Engine.Frame : 0,
        host.Load,
        host.LateBlocks,
        hush.IsOn,
        recorder.Current,
        ledger.IsAway,
        ledger.Waiting,
        state.WaitingFor is null ? [.. faults.Silenced.Select(live.Show.Rig.NameOf)] : [],
        losses.Last,
        options.Clock == ClockKind.Real ? "real" : "stepped");
}

/// <summary>Status, answered even while everything else waits.</summary>
sealed class StatusEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<StatusReport>();
    }

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.MapGet("/status", (StatusReport status) => status.Now()).WithName("getStatus").WithSummary("How the server is.");
}
