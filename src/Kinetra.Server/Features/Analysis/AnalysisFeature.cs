using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Analysis;

/// <summary>Live data by topic.</summary>
sealed class AnalysisFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) =>
        services.AddSingleton<IAnalysisTopic, LevelsTopic>().AddSingleton<IAnalysisTopic, PointTopic>().AddSingleton<AnalysisSocket>();

    public void MapTo(IEndpointRouteBuilder routes) =>
        routes.Map("/analysis", (HttpContext context, AnalysisSocket analysis) => analysis.ServeAsync(context)).ExcludeFromDescription();
}
