using System.Threading.Channels;
using Npgsql;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Talks;

/// <summary>What moved in a talk.</summary>
internal enum Stir
{
    /// <summary>There are new words, or it stands otherwise: whoever follows it reads on.</summary>
    Words,

    /// <summary>A member of the team is writing.</summary>
    MemberTypes,

    /// <summary>The visitor is writing.</summary>
    VisitorTypes,

    /// <summary>The talk is gone: whoever follows it is let go.</summary>
    Gone,
}

/// <summary>One move.</summary>
/// <param name="Name">Whose, where a person's; else empty.</param>
internal readonly record struct TalkStir(Stir Stir, string Name);

/// <summary>Those who follow talks on this node: visitors' open lines.</summary>
internal sealed class TalkLines
{
    // Whoever is slower than so many moves reads the words from the database anyway; only signs of typing get lost.
    private const int MostWaiting = 16;
    private readonly Lock _gate = new();
    private readonly Dictionary<Guid, HashSet<Channel<TalkStir>>> _byTalk = [];

    /// <summary>Lines that are open now.</summary>
    public int Count
    {
        get
        {
            lock (_gate)
                return _byTalk.Values.Sum(t => t.Count);
        }
    }

    /// <summary>Whether anybody follows a talk here.</summary>
    public bool IsFollowed(Guid talk)
    {
        lock (_gate)
            return _byTalk.ContainsKey(talk);
    }

    /// <summary>Begins to follow a talk; disposed, it ends.</summary>
    public TalkLine Open(Guid talk)
    {
        var line = Channel.CreateBounded<TalkStir>(
            new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest, SingleReader = true }
        );
        lock (_gate)
        {
            if (!_byTalk.TryGetValue(talk, out var lines))
                _byTalk[talk] = lines = [];
            lines.Add(line);
        }
        return new TalkLine(line.Reader, () => Close(talk, line));
    }

    public void Tell(Guid talk, TalkStir stir)
    {
        lock (_gate)
            if (_byTalk.TryGetValue(talk, out var lines))
                foreach (var line in lines)
                    line.Writer.TryWrite(stir);
    }

    /// <summary>Has everybody read on, as after news may have been missed.</summary>
    public void TellAll()
    {
        lock (_gate)
            foreach (var line in _byTalk.Values.SelectMany(l => l))
                line.Writer.TryWrite(new TalkStir(Stir.Words, ""));
    }

    private void Close(Guid talk, Channel<TalkStir> line)
    {
        lock (_gate)
            if (_byTalk.TryGetValue(talk, out var lines) && lines.Remove(line) && lines.Count == 0)
                _byTalk.Remove(talk);
    }
}

/// <summary>One open line.</summary>
internal sealed class TalkLine(ChannelReader<TalkStir> moves, Action close) : IDisposable
{
    public ChannelReader<TalkStir> Moves => moves;

    public void Dispose() => close();
}

/// <summary>Tells everybody who follows a talk that it moved: visitors and desks, on this node and the others.</summary>
/// <remarks>News carry no words: whoever hears them reads the database, so nothing is shown that is not committed.</remarks>
internal sealed class TalkNews(TalkLines lines, NpgsqlDataSource source, IOpenDesks desks, LoopWatch watch) : INewsTaker
{
    private const string Name = "outcry_talk";

    public string Channel => Name;

    /// <summary>The word by which desks hear of a talk.</summary>
    public const string Word = "talk";

    public async Task TellAsync(Guid siteId, Guid talkId, Stir stir, string name = "")
    {
        try
        {
            await HereAsync(siteId, talkId, new TalkStir(stir, name), CancellationToken.None);
            await using var command = source.CreateCommand("select pg_notify($1, $2)");
            command.Parameters.AddWithValue(Name);
            command.Parameters.AddWithValue($"{SiteNews.From}{siteId}|{talkId}|{stir}|{name}");
            await command.ExecuteNonQueryAsync();
        }
        catch (Exception failure)
        {
            // Committed is committed; who missed the news reads on with the next beat of the line.
            watch.PassedOver("news of a talk", failure);
        }
    }

    public async Task TakeUpAsync(string payload, CancellationToken stop)
    {
        var parts = payload.Split('|', 5);
        if (
            parts.Length == 5
            && parts[0] != SiteNews.NodeName
            && Guid.TryParse(parts[1], out var site)
            && Guid.TryParse(parts[2], out var talk)
            && Enum.TryParse<Stir>(parts[3], out var stir)
        )
            await HereAsync(site, talk, new TalkStir(stir, parts[4]), stop);
    }

    public void MayHaveMissed() => lines.TellAll();

    private Task HereAsync(Guid siteId, Guid talkId, TalkStir stir, CancellationToken stop)
    {
        lines.Tell(talkId, stir);
        return desks.TellAsync(
            siteId,
            stir.Stir switch
            {
                Stir.VisitorTypes => $"{Word} types {talkId}",
                Stir.MemberTypes => $"{Word} types {talkId} {stir.Name}",
                _ => Word,
            },
            stop
        );
    }
}
