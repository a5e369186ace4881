using Outcry.Core.Briefs;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;

namespace Outcry.Core.Replaying;

/// <summary>Remembers how plans play on page views where nothing that they wait for happens but time, which are most.</summary>
/// <remarks>
/// A plan is known by its callouts, what they wait for and how long their turns stay; two page views with the same plan
/// that begin alike play alike for as long as both last. So each is played once, to the longest stay there is, and cut
/// where the page was left. Not safe for two threads: each replayer has its own.
/// </remarks>
internal sealed class PlayMemory(HouseRules rules)
{
    // Sites have few plans; a limit keeps an unusual one from filling the memory.
    private const int MostPlans = 20_000;

    private readonly Node _root = new();
    private int _plans;

    /// <summary>What a plan comes to when nothing happens on the page; null when it must be played by itself.</summary>
    public PlayedPage? Find(IReadOnlyList<ArmedCallout> armed, PageStart start, RecordedVisit visit, int place)
    {
        if (armed.Count == 0)
            return PlayedPage.Nothing;
        if (start is { HushLeftMs: > 0 } or { DialogHushLeftMs: > 0 } || GapLeftMs(start) > 0)
            return null;
        var node = _root;
        for (var i = 0; i < armed.Count; i++)
        {
            if (KeyOf(armed[i], visit, place) is not { } key)
                return null;
            if (!node.Next.TryGetValue(key, out var next))
            {
                if (_plans >= MostPlans)
                    return null;
                node.Next[key] = next = new Node();
            }
            node = next;
        }
        var left = Math.Max(0, rules.MostPerVisit - start.Starts);
        node.Plays ??= new PlayedPage?[rules.MostPerVisit + 1];
        return node.Plays[left] ??= PlayLong(armed, start);
    }

    /// <summary>Plays a plan on the stage.</summary>
    public PlayedPage Play(IReadOnlyList<ArmedCallout> armed, PageStart start, IReadOnlyList<Act> acts, long stayMs)
    {
        var entries = new QueueEntry[armed.Count];
        for (var i = 0; i < entries.Length; i++)
            entries[i] = armed[i].ToEntry(i, rules);
        return new PlayedPage(armed, DisplayQueue.Play(entries, rules, start, acts, stayMs), stayMs);
    }

    private PlayedPage PlayLong(IReadOnlyList<ArmedCallout> armed, PageStart start)
    {
        _plans++;
        return Play(armed, start, [], RecordedPage.LongestStayMs + 1);
    }

    private long GapLeftMs(PageStart start) => start.SinceLastEndMs is { } since ? rules.GapSeconds * 1000L - since : 0;

    private static Key? KeyOf(ArmedCallout armed, RecordedVisit visit, int place)
    {
        if (armed.Callout.Brief.When.OnlyIfAvailable || armed.Callout.Targeting.WaitsForPages)
            return null;
        if (armed.Over is { AtMs: <= RecordedPage.LongestStayMs })
            return null;
        var triggers = armed.Triggers;
        for (var i = 0; i < triggers.Count; i++)
            if (RecordedActs.Touch(triggers[i], visit, place))
                return null;
        return StaysKey(armed) is { } stays ? new Key(armed.Callout, stays, armed.Instead is not null) : null;
    }

    // The stay of each turn is the brief's, and so many seconds more for long words: four bits a turn tell them all apart.
    private static ulong? StaysKey(ArmedCallout armed)
    {
        const int bits = 4;
        const long most = (1L << bits) - 1;
        if (armed.Turns.Count > 64 / bits - 1)
            return null;
        var key = (ulong)armed.Turns.Count;
        for (var i = 0; i < armed.Turns.Count; i++)
        {
            var more = StayTime.Of(0, armed.Turns[i].Length) / 1000;
            if (more > most)
                return null;
            key = (key << bits) | (ulong)more;
        }
        return key;
    }

    private readonly record struct Key(Callout Callout, ulong Stays, bool AskedOnly);

    private sealed class Node
    {
        public Dictionary<Key, Node> Next { get; } = [];

        public PlayedPage?[]? Plays { get; set; }
    }
}
