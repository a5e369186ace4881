using System.Collections.Concurrent;
using NodaTime;
using Outcry.Server.Mail;

namespace Outcry.Server.Accounts;

/// <summary>Tells an account's owner by mail that somebody guesses at the password. Sent beside the answer, so that it cannot be timed.</summary>
internal sealed class SignInNotes(Postman postman, IClock clock, IHostApplicationLifetime lifetime)
{
    private static readonly Duration Between = Duration.FromHours(1);
    private const int MostRemembered = 10_000;
    private readonly ConcurrentDictionary<string, Instant> _told = new();

    /// <summary>Sends the note, once an hour at most; does nothing where there is nobody to be told.</summary>
    public void Tell(string? email) => _ = Task.Run(() => TellAsync(email));

    private async Task TellAsync(string? email)
    {
        if (email is null || !postman.IsSet)
            return;
        var now = clock.GetCurrentInstant();
        if (_told.TryGetValue(email, out var before) && now - before < Between)
            return;
        if (_told.Count >= MostRemembered)
            _told.Clear();
        _told[email] = now;
        await postman.TrySendAsync(
            new Letter(
                email,
                "Somebody tried to sign in as you",
                $"""
                Hello,

                Somebody typed a wrong password for your Outcry account {SignInGuard.Free + 1} times.

                If it was you: wait a moment and try again, your account is not locked.
                If it was not: nobody got in, and each further guess has to wait longer than the one before. A long
                password that you use nowhere else is all it takes.

                """
            ),
            lifetime.ApplicationStopping
        );
    }
}
