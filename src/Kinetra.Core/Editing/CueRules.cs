using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes cues valid. A pad that is gone makes none invalid: the cue says so, and goes on without it.</summary>
static class CueRules
{
    public static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Cues.IsDefault || rig.Cues.Length > RigLimits.Cues || rig.Cues.Any(c => c is null || c.Acts.IsDefault || c.Acts.Any(a => a is null)))
        {
            problems.Add(new("cues", "These cues cannot be used.", $"a list of at most {RigLimits.Cues}, none of them or of their acts empty"));
            return;
        }

        var ids = new HashSet<CueId>();
        for (var c = 0; c < rig.Cues.Length; c++)
        {
            var (where, cue) = ($"cues[{c}]", rig.Cues[c]);
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", cue.Id.Value));
            RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", cue.Name));
            if (!ids.Add(cue.Id))
            {
                problems.Add(new($"{where}.id", "This id is taken.", "an id that no other cue has"));
            }

            if (cue.Notes is null || cue.Notes.Length > RigLimits.CueNotes || cue.Notes.Any(n => char.IsControl(n) && n != '\n'))
            {
                problems.Add(new($"{where}.notes", "These notes cannot be kept.", $"at most {RigLimits.CueNotes} characters, no control characters but line breaks"));
            }

            if (!Enum.IsDefined(cue.Begin))
            {
                problems.Add(new($"{where}.begin", "Unknown beginning.", string.Join(", ", Enum.GetNames<CueBegin>())));
            }

            Ranged($"{where}.wait", cue.Wait, RigLimits.CueWait);
            if (cue.Acts.Length > RigLimits.CueActs)
            {
                problems.Add(new($"{where}.acts", $"It does {cue.Acts.Length} things.", $"at most {RigLimits.CueActs}"));
            }

            for (var a = 0; a < cue.Acts.Length; a++)
            {
                Check($"{where}.acts[{a}]", cue.Acts[a]);
            }
        }

        void Check(string where, CueAct act)
        {
            switch (act)
            {
                case PlayPad play:
                    RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.pad", play.Pad.Value));
                    break;
                case StopPads stop:
                    Maybe($"{where}.pad", stop.Pad);
                    Ranged($"{where}.fade", stop.Fade ?? 0, RigLimits.CueFade);
                    if (stop.Group is null || (stop.Group.Length > 0 && RigRules.CheckText("", stop.Group, RigLimits.NameLength) is not null))
                    {
                        problems.Add(new($"{where}.group", "This is no word for a group.", $"at most {RigLimits.NameLength} characters, or nothing"));
                    }

                    break;
                case RecallLevels recall:
                    Levels(where, recall.Levels);
                    Ranged($"{where}.over", recall.Over, RigLimits.CueFade);
                    break;
                case TurnMusic music:
                    RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.source", music.Source.Value));
                    Ranged($"{where}.over", music.Over, RigLimits.CueFade);
                    break;
                case SetMark mark:
                    if (mark.Words is null || (mark.Words.Length > 0 && RigRules.CheckText("", mark.Words, RigLimits.NameLength) is not null))
                    {
                        problems.Add(new($"{where}.words", "These are no words for a mark.", $"at most {RigLimits.NameLength} characters, or nothing"));
                    }

                    break;
                case TurnPads turn:
                    Maybe($"{where}.pad", turn.Pad);
                    RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.gain", turn.Gain));
                    Ranged($"{where}.over", turn.Over, RigLimits.CueFade);
                    break;
            }
        }

        void Levels(string where, ImmutableArray<CueLevel> levels)
        {
            if (levels.IsDefault || levels.Length > RigLimits.CueLevels || levels.Any(l => l is null))
            {
                problems.Add(new($"{where}.levels", "These levels cannot be used.", $"a list of at most {RigLimits.CueLevels}, none of them empty"));
                return;
            }

            var sends = new HashSet<(MixId, SourceId)>();
            for (var l = 0; l < levels.Length; l++)
            {
                RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.levels[{l}].mix", levels[l].Mix.Value));
                RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.levels[{l}].source", levels[l].Source.Value));
                RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.levels[{l}].gain", levels[l].Gain));
                if (!sends.Add((levels[l].Mix, levels[l].Source)))
                {
                    problems.Add(new($"{where}.levels[{l}]", "This source's level in this mix is there already.", "each send once"));
                }
            }
        }

        void Maybe(string where, PadId? pad)
        {
            if (pad is { } id)
            {
                RigRules.AddIfAny(problems, RigRules.CheckId(where, id.Value));
            }
        }

        void Ranged(string where, double value, double most)
        {
            if (!(value >= 0 && value <= most))
            {
                problems.Add(new(where, $"{Number(value)} ms is out of range.", $"a number from 0 to {Number(most)} ms"));
            }
        }
    }

    private static string Number(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);
}
