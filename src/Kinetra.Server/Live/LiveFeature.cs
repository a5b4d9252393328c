using Kinetra.Core.Engine;
using Kinetra.Data;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>The live show, its ledger, and the engine that plays it.</summary>
sealed class LiveFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<EngineFaults>().AddHostedService<FollowerPump>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<EngineFaults>());
        services.AddSingleton<LossWatch>().AddHostedService(s => s.GetRequiredService<LossWatch>());
        services.AddSingleton<Kinetra.Gear.Practice.PracticeComputer>().AddSingleton<GearAround>().AddSingleton<GearKept>().AddSingleton<LiveGear>();
        services.AddSingleton<ISoundProvider>(s => s.GetRequiredService<Kinetra.Gear.Practice.PracticeComputer>()).AddSingleton<Kinetra.Core.Gear.ISongTeller>(s => s.GetRequiredService<Kinetra.Gear.Practice.PracticeComputer>()).AddSingleton<Absences>();
        services.AddSingleton<PadBank>().AddSingleton<SourceInlets>().AddSingleton<EngineHost>().AddSingleton<HushSwitch>();
        services.AddSingleton(_ => new CommandJournal(Path.Combine(options.DataFolder, "journal.jsonl")));
        services.AddSingleton<ShowLedger>().AddHostedService<StorageWatch>();
        services.AddSingleton<Turn>().AddSingleton<LiveShow>().AddSingleton<Playing>().AddSingleton<Openings>().AddSingleton<ShowCommands>();
        services.AddSingleton<FolderOwner>().AddSingleton<StartState>().AddHostedService<Startup>();
    }
}
