using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Hands;

/// <summary>
/// Levels that a hand moves: heard at once, and one step of the show when it rests, however many values came on the way. Any thread.
/// </summary>
public sealed partial class LevelMoves(Playing playing, ShowCommands commands, LiveShow live, IHandAudience audience, IShowAudience windows, TimeProvider time, ILogger<LevelMoves> log) : IHostedService
{
    /// <summary>For how long a level rests before it is a step of the show.</summary>
    public static readonly TimeSpan Rest = TimeSpan.FromMilliseconds(400);

    private readonly Lock _moving = new();
    private readonly Dictionary<(string Hand, string Target), Move> _moves = [];

    /// <summary>The show as a hand hears it: with what it moves and has not let rest.</summary>
    public Rig RigOf(Hand hand)
    {
        ArgumentNullException.ThrowIfNull(hand);
        var rig = live.Show.Rig;
        lock (_moving)
        {
            foreach (var move in _moves.Where(m => m.Key.Hand == hand.Id && m.Value.Show == live.Show.Id).Select(m => m.Value))
            {
                rig = move.Command.Apply(rig) is CommandResult.Applied applied ? applied.Rig : rig;
            }
        }

        return rig;
    }

    /// <summary>A hand moves a level.</summary>
    /// <returns>What is wrong; null: it is heard.</returns>
    public RigProblem? Go(Hand hand, RigCommand command)
    {
        ArgumentNullException.ThrowIfNull(hand);
        ArgumentNullException.ThrowIfNull(command);
        var show = live.Show.Id;
        if (playing.Preview(show, hand.Author.Connection!, command) is [var problem, ..])
        {
            return problem;
        }

        if (command is SetSend send)
        {
            audience.SendMoved(send);
        }

        var key = (hand.Id, command.Targets.Single());
        lock (_moving)
        {
            if (_moves.TryGetValue(key, out var move))
            {
                (move.Command, move.Show) = (command, show);
                move.Timer.Change(Rest, Timeout.InfiniteTimeSpan);
            }
            else
            {
                _moves[key] = new Move(hand, command, show, time.CreateTimer(_ => _ = StoreAsync(hand, key), null, Rest, Timeout.InfiniteTimeSpan));
            }
        }

        return null;
    }

    /// <summary>Lets all that moves rest now.</summary>
    public Task SettleAsync(Hand hand)
    {
        ArgumentNullException.ThrowIfNull(hand);
        List<(string, string)> keys;
        lock (_moving)
        {
            keys = [.. _moves.Keys.Where(k => k.Hand == hand.Id)];
        }

        return Task.WhenAll(keys.Select(k => StoreAsync(hand, k)));
    }

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    /// <summary>The server ends: what moves is stored.</summary>
    public Task StopAsync(CancellationToken cancellationToken)
    {
        List<Hand> hands;
        lock (_moving)
        {
            hands = [.. _moves.Values.Select(m => m.Hand)];
        }

        return Task.WhenAll(hands.DistinctBy(h => h.Id).Select(SettleAsync));
    }

    private async Task StoreAsync(Hand hand, (string, string) key)
    {
        Move? move;
        lock (_moving)
        {
            if (!_moves.Remove(key, out move))
            {
                return;
            }
        }

        await move.Timer.DisposeAsync();
        try
        {
            // Whoever moves it last has it so: it is made on what is there when it is its turn.
            var state = live.State;
            if (await commands.DoAsync(new CommandTarget(move.Show, state.Show.Revision, hand.Author), _ => move.Command) is Outcome.Done)
            {
                HearAgain(hand, key);
                return;
            }
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            LogLost(log, move.Command.Targets.Single(), e.Message);
        }

        // It was not stored: what is stored is heard.
        windows.PreviewsEnded(playing.EndPreviews(hand.Author.Connection!, move.Command));
    }

    // Storing ends the hand's preview of that level, also of one that has moved on meanwhile.
    private void HearAgain(Hand hand, (string, string) key)
    {
        lock (_moving)
        {
            if (_moves.TryGetValue(key, out var next))
            {
                playing.Preview(next.Show, hand.Author.Connection!, next.Command);
            }
        }
    }

    private sealed class Move(Hand hand, RigCommand command, Guid show, ITimer timer)
    {
        public Hand Hand => hand;

        public RigCommand Command { get; set; } = command;

        public Guid Show { get; set; } = show;

        public ITimer Timer => timer;
    }

    [LoggerMessage(LogLevel.Warning, "A level that was moved by hand could not be kept ({Target}): {Why}")]
    private static partial void LogLost(ILogger log, string target, string why);
}
