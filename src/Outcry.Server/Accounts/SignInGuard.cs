using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using NodaTime;

namespace Outcry.Server.Accounts;

/// <summary>
/// Slows guessing down without ever locking anybody out: each wrong guess makes the next one wait longer, for the account
/// and the network block it came from. Accounts that do not exist are slowed alike, so that nothing is learnt from it.
/// </summary>
/// <remarks>Kept in each node's memory: several nodes give a guesser so many times the guesses.</remarks>
internal sealed class SignInGuard(IClock clock)
{
    /// <summary>Wrong guesses that cost nothing: fingers slip.</summary>
    public const int Free = 5;

    private static readonly Duration FirstWait = Duration.FromSeconds(2);
    private static readonly Duration LongestWait = Duration.FromMinutes(15);

    /// <summary>What was guessed wrong is forgotten after so long without another guess.</summary>
    private static readonly Duration Memory = Duration.FromHours(1);

    /// <summary>Wrong guesses an hour at one account, from wherever, after which blocks it was never signed in from have to wait too.</summary>
    private const int MostFromAnywhere = 50;

    private const int MostRemembered = 100_000;

    private readonly ConcurrentDictionary<string, Tries> _tries = new();
    private readonly ConcurrentDictionary<string, Instant> _trusted = new();

    /// <summary>How long a guess has to wait; zero when it may be made.</summary>
    /// <param name="account">The e-mail address as it was typed.</param>
    /// <param name="block">The sender's network block.</param>
    public Duration WaitFor(string account, string block)
    {
        var now = clock.GetCurrentInstant();
        var here = Left(Key(account, block), Free, now);
        return _trusted.ContainsKey(Key(account, block))
            ? here
            : Duration.Max(here, Left(Key(account, ""), MostFromAnywhere, now));
    }

    /// <summary>Notes a wrong guess.</summary>
    /// <returns>Whether the account's owner should hear of it: at the guess after the free ones, once an hour at most.</returns>
    public bool Wrong(string account, string block)
    {
        var now = clock.GetCurrentInstant();
        if (_tries.Count >= MostRemembered)
            Forget(now);
        Add(Key(account, ""), now);
        return Add(Key(account, block), now) == Free + 1;
    }

    /// <summary>Notes that somebody signed in: the block is the owner's own from now on.</summary>
    public void Right(string account, string block)
    {
        _tries.TryRemove(Key(account, block), out _);
        if (_trusted.Count >= MostRemembered)
            _trusted.Clear();
        _trusted[Key(account, block)] = clock.GetCurrentInstant();
    }

    private int Add(string key, Instant now) =>
        _tries
            .AddOrUpdate(
                key,
                _ => new Tries(1, now),
                (_, t) => now - t.LastAt > Memory ? new Tries(1, now) : new Tries(t.Count + 1, now)
            )
            .Count;

    private Duration Left(string key, int free, Instant now)
    {
        if (!_tries.TryGetValue(key, out var tries) || tries.Count <= free || now - tries.LastAt > Memory)
            return Duration.Zero;
        // Twice as long each time; past thirty doublings the longest wait is long reached.
        var doublings = Math.Min(tries.Count - free - 1, 30);
        var wait = Duration.Min(LongestWait, FirstWait * (1L << doublings));
        return Duration.Max(Duration.Zero, tries.LastAt + wait - now);
    }

    private void Forget(Instant now)
    {
        foreach (var (key, tries) in _tries)
            if (now - tries.LastAt > Memory)
                _tries.TryRemove(key, out _);
        // Only a flood of made-up accounts can still fill it; beginning anew costs a guesser's waits, never a member's.
        if (_tries.Count >= MostRemembered)
            _tries.Clear();
    }

    // Addresses are not kept, not even in memory.
    private static string Key(string account, string block) =>
        Convert.ToHexString(
            SHA256.HashData(Encoding.UTF8.GetBytes($"{account.Trim().ToUpperInvariant()}\n{block}")).AsSpan(0, 16)
        );

    private readonly record struct Tries(int Count, Instant LastAt);
}
