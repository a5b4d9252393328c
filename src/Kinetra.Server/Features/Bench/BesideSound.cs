using System.Collections.Immutable;
using System.Numerics.Tensors;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Bench;

/// <summary>What several sources gave together in a stretch, as it was heard: each through its chain.</summary>
static class BesideSound
{
    /// <summary>The sources that are to go round beside another one.</summary>
    /// <param name="rig">Where they are.</param>
    /// <param name="of">The other one's id.</param>
    /// <param name="ids">Theirs.</param>
    /// <param name="where">The field that names them.</param>
    /// <param name="problem">What is against it; null: nothing.</param>
    public static ImmutableArray<Source> Speakers(Rig rig, string of, ImmutableArray<string> ids, string where, out RigProblem? problem)
    {
        ImmutableArray<string> once = [.. ids.Distinct()];
        var unknown = once.FirstOrDefault(id => id == of || rig.Find(new SourceId(id)) is null);
        problem = once.Length > Loops.MostBeside ? new RigProblem(where, "So many do not go round beside it.", $"at most {Loops.MostBeside}")
            : unknown is not null ? new RigProblem(where, $"There is no other source “{unknown}”.", "other sources of the live show")
            : null;
        return problem is null ? [.. once.Select(id => rig.Find(new SourceId(id))!)] : [];
    }

    /// <summary>By how much more each of them is turned up in a mix than the one that they go beside. Null: that one is not heard there, or not after its chain.</summary>
    /// <param name="rig">Where they are.</param>
    /// <param name="id">The mix’s.</param>
    /// <param name="of">The one that they go beside.</param>
    /// <param name="speakers">They; who is not heard there has 0.</param>
    public static ImmutableArray<double>? Factors(Rig rig, string id, SourceId of, ImmutableArray<Source> speakers)
    {
        if (rig.Find(new MixId(id)) is not { } mix)
        {
            return null;
        }

        double Turned(SourceId source) => rig.Find(mix.Id, source) is { Tap: Tap.AfterChain } send ? send.Factor : 0;
        return Turned(of) is > 0 and var own ? [.. speakers.Select(s => Turned(s.Id) / own)] : null;
    }

    /// <summary>Why there are no <see cref="Factors"/>.</summary>
    public static ProblemHttpResult NotIn(Rig rig, string id, Source of) => rig.Find(new MixId(id)) is { } mix
        ? Problems.Invalid("mix", $"{of.Name} is not heard in {mix.Name}, or not after its chain.", "a mix in which it is heard")
        : Problems.NotFound("mix", $"There is no mix “{id}”.", "a mix of the live show");

    /// <summary>Their sum, closed to a loop, in stereo. Null: of one of them, not all of it is there.</summary>
    /// <param name="speakers">Whose.</param>
    /// <param name="factors">By how much each is turned up where it is heard; null: by nothing.</param>
    /// <param name="recent">Where it is kept.</param>
    /// <param name="from">The first engine frame.</param>
    /// <param name="frames">How many.</param>
    /// <param name="cancel">Ends it.</param>
    public static SoundBeside? Heard(ImmutableArray<Source> speakers, ImmutableArray<double>? factors, RecentSounds recent, long from, int frames, CancellationToken cancel)
    {
        // All at once, before anything is computed: meanwhile what is kept goes on.
        var sounds = speakers.Select(s => recent.Find(s.Id)?.Take(from, frames)).ToArray();
        if (sounds.Any(s => s is null || s.Frames < frames))
        {
            return null;
        }

        var length = frames - LoopSound.SeamFrames;
        var (left, right) = (new float[length], new float[length]);
        var (turnedLeft, turnedRight) = factors is null ? (left, right) : (new float[length], new float[length]);
        for (var i = 0; i < sounds.Length; i++)
        {
            // Whom its own chain listens to is not asked.
            var heard = LoopRender.Render(LoopSound.Closed(sounds[i]!), speakers[i].Chain, cancel: cancel);
            TensorPrimitives.Add<float>(left, heard.Left, left);
            TensorPrimitives.Add<float>(right, heard.Right ?? heard.Left, right);
            if (factors is { } by)
            {
                TensorPrimitives.MultiplyAdd(heard.Left, (float)by[i], turnedLeft, turnedLeft);
                TensorPrimitives.MultiplyAdd(heard.Right ?? heard.Left, (float)by[i], turnedRight, turnedRight);
            }
        }

        return new(new SoundBuffer(left, right), new SoundBuffer(turnedLeft, turnedRight));
    }
}
