using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;
using Microsoft.Extensions.Logging;

namespace Kinetra.Server.Tests;

public class EngineFaultsTests
{
    [Fact]
    public void What_fails_is_said_once_in_the_log_and_told_until_it_is_another()
    {
        var rig = new Rig
        {
            Sources = [Source("bad"), Source("good")],
            Mixes = [new Mix { Id = new("all"), Name = "All", Purpose = MixPurpose.Other, Sends = [new Send { Source = new("bad") }, new Send { Source = new("good") }] }],
        };
        var engine = new MixEngine(EnginePlan.Build(rig, s => new Inlet(s.Id.Value == "bad"), null));
        var log = new Lines();
        var faults = new EngineFaults(log) { Engine = engine };
        engine.ProcessBlock();
        engine.ProcessBlock();
        faults.CatchUp();
        engine.ProcessBlock();
        faults.CatchUp();
        faults.Silenced.ShouldBe([new SourcePoint(new("bad"))]);
        log.Told.ShouldHaveSingleItem().ShouldBe("Error: source/bad failed at frame 0 and is silent from then on; the rest plays. It broke.");

        // Taken away, and brought back by undoing that: a new one.
        var without = rig with { Sources = [rig.Sources[1]], Mixes = [rig.Mixes[0] with { Sends = [rig.Mixes[0].Sends[1]] }] };
        engine.Post(EnginePlan.Build(without, _ => new Inlet(false), engine.Plan));
        Run(engine);
        faults.Silenced.ShouldBeEmpty();
        engine.Post(EnginePlan.Build(rig, _ => new Inlet(false), engine.Plan));
        Run(engine);
        faults.CatchUp();
        faults.Silenced.ShouldBeEmpty();
        log.Told.Count.ShouldBe(1);
    }

    private static void Run(MixEngine engine)
    {
        for (var block = 0; block < 10; block++)
        {
            engine.ProcessBlock();
        }
    }

    private static Source Source(string id) => new() { Id = new(id), Name = id, Kind = SourceKind.App, Input = new BrowserInput("test", id, id, 0, 1) };

    private sealed class Inlet(bool fails) : IInlet
    {
        public int Channels => 1;

        public bool BeginsWithSource => true;

        public void Read(long frame, Span<float> left, Span<float> right) => left.Fill(fails ? throw new InvalidOperationException("It broke.") : 0.5f);

        public void Restart()
        {
        }
    }

    private sealed class Lines : ILogger<EngineFaults>
    {
        public List<string> Told { get; } = [];

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception, Func<TState, Exception?, string> formatter) =>
            Told.Add($"{logLevel}: {formatter(state, exception)} {exception?.Message}");
    }
}
