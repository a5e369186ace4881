using System.Numerics;

namespace Outcry.Core.Pages;

/// <summary>Many page rules compiled once, so that finding those that let a page in costs what matches, not what exists.</summary>
/// <remarks>
/// A tree over path segments, walked with the set of nodes that are still possible. Each segment of the page is
/// looked up once per possible node; patterns that share a beginning share the walk.
/// </remarks>
public sealed class PageIndex
{
    private readonly Node _root = new();
    private readonly List<int> _everywhere = [];
    private readonly ulong[] _everywhereBits;
    private readonly int _ruleCount;

    /// <summary>Compiles the rules; a rule is known by its place in the list.</summary>
    public PageIndex(IReadOnlyList<PageRule> rules)
    {
        _ruleCount = rules.Count;
        _everywhereBits = new ulong[(rules.Count + BitsPerWord - 1) / BitsPerWord];
        for (var rule = 0; rule < rules.Count; rule++)
        {
            if (rules[rule].Includes.Count == 0)
            {
                _everywhere.Add(rule);
                _everywhereBits[rule / BitsPerWord] |= 1UL << (rule % BitsPerWord);
            }
            foreach (var include in rules[rule].Includes)
                Insert(new Entry(rule, include, Excludes: false));
            foreach (var exclude in rules[rule].Excludes)
                Insert(new Entry(rule, exclude, Excludes: true));
        }
    }

    /// <summary>The places of the rules that let the page in, in rising order, each once.</summary>
    public IReadOnlyList<int> RulesShowing(PageAddress page)
    {
        var hits = new List<Entry>();
        foreach (var node in Walk(page.Segments).Nodes)
        foreach (var entry in node.Ends)
            if (entry.Pattern.MatchesOffPath(page))
                hits.Add(entry);
        if (hits.Count == 0)
            return _everywhere;

        // A bit for each rule: setting one costs the same however many rules there are, and they come out in order.
        var shown = (ulong[])_everywhereBits.Clone();
        foreach (var hit in hits)
            if (!hit.Excludes)
                shown[hit.Rule / BitsPerWord] |= 1UL << (hit.Rule % BitsPerWord);
        foreach (var hit in hits)
            if (hit.Excludes)
                shown[hit.Rule / BitsPerWord] &= ~(1UL << (hit.Rule % BitsPerWord));
        return PlacesOf(shown);
    }

    private static int[] PlacesOf(ulong[] bits)
    {
        var count = 0;
        foreach (var word in bits)
            count += BitOperations.PopCount(word);
        var places = new int[count];
        var next = 0;
        for (var word = 0; word < bits.Length; word++)
        for (var left = bits[word]; left != 0; left &= left - 1)
            places[next++] = word * BitsPerWord + BitOperations.TrailingZeroCount(left);
        return places;
    }

    private const int BitsPerWord = 64;

    /// <summary>How many rules were compiled.</summary>
    public int RuleCount => _ruleCount;

    private void Insert(Entry entry)
    {
        var node = _root;
        foreach (var segment in entry.Pattern.Segments)
            node = node.Child(segment);
        node.Ends.Add(entry);
    }

    private NodeSet Walk(IReadOnlyList<string> segments)
    {
        var (possible, next) = (new NodeSet(), new NodeSet());
        AddWithDeep(possible, _root);
        for (var i = 0; i < segments.Count; i++)
        {
            foreach (var node in possible.Nodes)
                node.Step(segments[i], next);
            possible.Clear();
            (possible, next) = (next, possible);
        }
        return possible;
    }

    // "**" may stand for no segment at all, so whoever reaches a node has also reached the "**" below it.
    private static void AddWithDeep(NodeSet set, Node node)
    {
        for (var reached = node; reached is not null; reached = reached.Deep)
            set.Add(reached);
    }

    /// <summary>Nodes, each once. They are a few as a rule, which are looked through sooner than hashed.</summary>
    private sealed class NodeSet
    {
        private const int Few = 8;
        private readonly List<Node> _nodes = [];
        private HashSet<Node>? _hashed;

        public List<Node> Nodes => _nodes;

        public void Add(Node node)
        {
            if (_nodes.Count > Few)
                _hashed ??= [.. _nodes];
            if (_hashed is { } hashed ? hashed.Add(node) : !_nodes.Contains(node))
                _nodes.Add(node);
        }

        public void Clear()
        {
            _nodes.Clear();
            _hashed = null;
        }
    }

    private sealed record Entry(int Rule, PagePattern Pattern, bool Excludes);

    private sealed class Node
    {
        private readonly Dictionary<string, Node> _literals = [];
        private readonly List<(string Glob, Node Node)> _globs = [];
        private bool _takesAny;

        public List<Entry> Ends { get; } = [];

        public Node? Deep { get; private set; }

        public Node Child(string segment)
        {
            if (segment == PagePattern.AnyDepthSegment)
                return Deep ??= new Node { _takesAny = true };
            if (!segment.Contains('*', StringComparison.Ordinal))
            {
                if (!_literals.TryGetValue(segment, out var literal))
                    _literals[segment] = literal = new Node();
                return literal;
            }
            var known = _globs.FindIndex(g => g.Glob == segment);
            if (known >= 0)
                return _globs[known].Node;
            _globs.Add((segment, new Node()));
            return _globs[^1].Node;
        }

        public void Step(string segment, NodeSet next)
        {
            if (_takesAny)
                AddWithDeep(next, this);
            if (_literals.TryGetValue(segment, out var literal))
                AddWithDeep(next, literal);
            foreach (var (glob, node) in _globs)
                if (SegmentGlob.Matches(glob, segment))
                    AddWithDeep(next, node);
        }
    }
}
