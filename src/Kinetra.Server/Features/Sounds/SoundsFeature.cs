using Kinetra.Data;
using Kinetra.Gear;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Sounds;

/// <summary>Sounds that are kept, and those of the stand-ins. They are reached as sources.</summary>
sealed class SoundsFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<SoundStore>().AddSingleton<SoundLibrary>().AddHostedService<SoundReadAhead>();
        services.AddSingleton(_ => new StandIns(options.StandInFolder ?? Path.Combine(options.DataFolder, "stand-ins")));
    }
}
