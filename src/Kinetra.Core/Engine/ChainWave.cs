using System.Collections.Immutable;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;

namespace Kinetra.Core.Engine;

/// <summary>A chain and the block that it processes in place. <paramref name="Right"/> is empty for mono.</summary>
readonly record struct ChainWork(ChainRun Chain, float[] Left, float[] Right);

/// <summary>
/// Chains that need nothing of one another, computed in turns: where at least three of them come to a processor of one type,
/// those are computed side by side. In which turns was worked out when the plan was built; it changes no sample.
/// </summary>
sealed class ChainWave
{
    private readonly ImmutableArray<Turn> _turns;

    public ChainWave(ImmutableArray<ChainWork> chains)
    {
        var turns = ImmutableArray.CreateBuilder<Turn>();
        var done = new int[chains.Length];
        while (true)
        {
            var open = Enumerable.Range(0, chains.Length).Where(c => done[c] < chains[c].Chain.Steps.Length).ToList();
            if (open.Count == 0)
            {
                break;
            }

            // The type that most of them come to; else the next of the chain that has furthest to go.
            var together = open.Where(c => Next(c).CanJoin).GroupBy(c => Next(c).Slot.Type, ReferenceEqualityComparer.Instance).MaxBy(g => g.Count());
            if (together is null || together.Count() < Lanes.Fewest)
            {
                var alone = open.MaxBy(c => chains[c].Chain.Steps.Length - done[c]);
                turns.Add(new Turn([Member(alone)]));
                done[alone]++;
                continue;
            }

            foreach (var some in together.Chunk(Lanes.Count))
            {
                turns.Add(new Turn([.. some.Select(Member)]));
            }

            foreach (var c in together)
            {
                done[c]++;
            }
        }

        _turns = turns.ToImmutable();

        ChainStep Next(int chain) => chains[chain].Chain.Steps[done[chain]];

        Member Member(int chain) => new(Next(chain), chains[chain].Left, chains[chain].Right);
    }

    public void Process()
    {
        foreach (var turn in _turns)
        {
            turn.Process();
        }
    }

    private readonly record struct Member(ChainStep Step, float[] Left, float[] Right);

    private sealed class Turn
    {
        private readonly Member[] _members;
        private readonly Member[] _joined;
        private readonly ISideBySide? _sideBySide;
        private readonly LaneGroup _group = new();

        public Turn(Member[] members)
        {
            _members = members;
            _joined = new Member[members.Length];
            _sideBySide = members.Length >= Lanes.Fewest ? members[0].Step.Slot.Type.SideBySide!() : null;
        }

        public void Process()
        {
            var joined = 0;
            foreach (var member in _members)
            {
                if (_sideBySide is not null && member.Step.Slot.IsSteady)
                {
                    _joined[joined++] = member;
                }
                else
                {
                    member.Step.Process(member.Left, member.Right);
                }
            }

            if (joined < Lanes.Fewest)
            {
                foreach (var member in _joined.AsSpan(0, joined))
                {
                    member.Step.Process(member.Left, member.Right);
                }

                return;
            }

            _group.Clear();
            foreach (var member in _joined.AsSpan(0, joined))
            {
                member.Step.Slot.Join(_group, member.Left, member.Right);
            }

            _sideBySide!.Process(_group);
            foreach (var member in _joined.AsSpan(0, joined))
            {
                ChainSlot.Joined(member.Left, member.Right);
            }
        }
    }
}
