using System.Globalization;
using Kinetra.Data.Rows;
using Kinetra.Server.Features.Promises;
using Kinetra.Server.Jobs;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Takes;

/// <summary>Empties the folder of exports at the start, has every take judged when it has ended, marks what happens while one is recorded, and ends it when the server stops.</summary>
sealed class TakeWriting(TakeRecorder recorder, TakeFiles files, JobRunner jobs, PromiseHistory promises, LossWatch losses) : IHostedService
{
    public Task StartAsync(CancellationToken cancellationToken)
    {
        files.Collect();
        recorder.Ended += Judge;
        promises.Broke += Broke;
        losses.Lost += Lost;
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken)
    {
        recorder.Ended -= Judge;
        promises.Broke -= Broke;
        losses.Lost -= Lost;
        return recorder.InterruptAsync(cancellationToken);
    }

    private void Broke(string sentence) => recorder.MarkByItself($"Broken: {sentence}");

    private void Lost(SoundLoss loss) => recorder.MarkByItself(string.Create(CultureInfo.InvariantCulture, $"{Math.Max(1, loss.Milliseconds):0} ms came too late for listeners"));

    private void Judge(TakeRow take)
    {
        try
        {
            jobs.Start(TakeFiles.Check, take.Name, take.Id.ToString(), (progress, stop) => files.CheckAsync(take, progress, stop));
        }
        catch (TooManyJobsException)
        {
            // So many takes wait to be judged already: it is done by hand.
        }
    }
}
