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

            // What joins nobody is done at once: nothing is won by waiting. Of types, the one that most chains have come to and
            // fewest come to later: eight side by side cost no more than three.
            var next = open.Where(c => !Next(c).CanJoin).Take(1).ToArray();
            if (next.Length == 0)
            {
                next = [.. open.GroupBy(c => Next(c).Slot.Type, ReferenceEqualityComparer.Instance)
                    .MaxBy(g => g.Count() - open.Count(c => ComesLater(c, g.Key)))!];
            }

            foreach (var some in next.Chunk(next.Length < Lanes.Fewest ? 1 : Lanes.Count))
            {
                turns.Add(new Turn([.. some.Select(c => new Member(chains[c].Chain, Next(c), chains[c].Left, chains[c].Right))]));
            }

            foreach (var c in next)
            {
                done[c]++;
            }
        }

        _turns = turns.ToImmutable();

        ChainStep Next(int chain) => chains[chain].Chain.Steps[done[chain]];

        bool ComesLater(int chain, object? type) =>
            !ReferenceEquals(Next(chain).Slot.Type, type)
            && chains[chain].Chain.Steps.Skip(done[chain] + 1).Any(s => s.CanJoin && ReferenceEquals(s.Slot.Type, type));
    }

    public void Process()
    {
        foreach (var turn in _turns)
        {
            turn.Process();
        }
    }

    private readonly record struct Member(ChainRun Chain, ChainStep Step, float[] Left, float[] Right)
    {
        // A processor that fails silences its own chain, and nobody else's.
        public void Process()
        {
            if (Chain.Failure is not null)
            {
                return;
            }

            try
            {
                Step.Process(Left, Right);
            }
            catch (Exception e)
            {
                Chain.Failure = e;
            }
        }
    }

    private sealed class Turn
    {
        private readonly Member[] _members;
        private readonly Member[] _joined;
        private readonly ISideBySide? _sideBySide;
        private readonly LaneGroup? _group;
        private bool _isAlone;

        public Turn(Member[] members)
        {
            _members = members;
            _joined = new Member[members.Length];
            if (members.Length >= Lanes.Fewest)
            {
                _sideBySide = members[0].Step.Slot.Type.SideBySide!();
                _group = new LaneGroup();
            }
        }

        public void Process()
        {
            var joined = 0;
            foreach (var member in _members)
            {
                if (_sideBySide is not null && !_isAlone && member.Chain.Failure is null && member.Step.Slot.IsSteady)
                {
                    _joined[joined++] = member;
                }
                else
                {
                    member.Process();
                }
            }

            if (joined < Lanes.Fewest)
            {
                foreach (var member in _joined.AsSpan(0, joined))
                {
                    member.Process();
                }

                return;
            }

            try
            {
                Join(_joined.AsSpan(0, joined));
            }
            catch (Exception)
            {
                // Whose fault it was is found out from the next block on, when each is computed alone; this one is silence.
                _isAlone = true;
                foreach (var member in _joined.AsSpan(0, joined))
                {
                    member.Left.AsSpan().Clear();
                    member.Right.AsSpan().Clear();
                }
            }
        }

        private void Join(ReadOnlySpan<Member> members)
        {
            _group!.Clear();
            foreach (var member in members)
            {
                member.Step.Slot.Join(_group, member.Left, member.Right);
            }

            _sideBySide!.Process(_group);
            foreach (var member in members)
            {
                member.Step.Slot.Joined(member.Left, member.Right);
            }
        }
    }
}
