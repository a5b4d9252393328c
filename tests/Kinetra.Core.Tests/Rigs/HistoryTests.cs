using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Rigs;

public class HistoryTests
{
    private enum Press
    {
        Change,
        Undo,
        Redo,
    }

    [Fact]
    public void Whatever_is_pressed_undo_and_redo_walk_one_line_and_the_log_only_grows()
    {
        Gen.Enum<Press>().List[1, 60].Sample(presses =>
        {
            var rig = Demo.Rig("mic", "game");
            var history = History.Empty;

            // The model: all states that can be gone back or forward to.
            var states = new List<string> { Json(rig) };
            var at = 0;
            var gain = 0.0;
            foreach (var press in presses)
            {
                var (command, kind, of) = press switch
                {
                    Press.Undo => (history.ToUndo?.Inverse, StepKind.Undo, history.ToUndo?.Revision),
                    Press.Redo => (history.ToRedo?.Inverse, StepKind.Redo, history.ToRedo?.Revision),
                    _ => (new SetSend(Demo.Viewers, new("mic"), new Gain(gain -= 0.5)), StepKind.Do, (long?)null),
                };
                if (command is null)
                {
                    at.ShouldBe(press == Press.Undo ? 0 : states.Count - 1);
                    continue;
                }

                var applied = (CommandResult.Applied)command.Apply(rig);
                rig = applied.Rig;
                history = history.With(new Step(
                    history.Newest.Count + 1, DateTimeOffset.UnixEpoch, kind, of, new StepAuthor(), applied.Sentence, command, applied.Inverse));
                if (press == Press.Change)
                {
                    states.RemoveRange(at + 1, states.Count - at - 1);
                    states.Add(Json(rig));
                }

                at += press == Press.Undo ? -1 : 1;
                Json(rig).ShouldBe(states[at]);
            }

            var read = History.Of(history.Newest);
            read.ToUndo.ShouldBe(history.ToUndo);
            read.ToRedo.ShouldBe(history.ToRedo);
        });
    }

    [Fact]
    public void Only_the_newest_steps_are_kept_at_hand()
    {
        var step = new SetSend(Demo.Viewers, new("mic"), Gain.Off);
        var history = History.Of(Enumerable.Range(1, History.MaxNewest + 20).Select(n =>
            new Step(n, DateTimeOffset.UnixEpoch, StepKind.Do, null, new StepAuthor(), "x", step, step)));
        history.Newest.Count.ShouldBe(History.MaxNewest);
        history.Newest[^1].Revision.ShouldBe(History.MaxNewest + 20);
    }

    private static string Json(Rig rig) => System.Text.Json.JsonSerializer.Serialize(rig, RigJson.Options);
}
