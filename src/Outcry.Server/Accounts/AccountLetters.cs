using System.Globalization;
using NodaTime;
using Outcry.Server.Mail;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Accounts;

/// <summary>Mails about an account. They are sent beside the answer, so that nobody can tell by its time whether there was anything to send.</summary>
internal sealed class AccountLetters(Postman postman, IHostApplicationLifetime lifetime)
{
    public void NewDevice(Member member, string device, Instant at) =>
        Send(
            member.Email,
            "You signed in on another device",
            $"""
            Hello {member.DisplayName},

            somebody signed in to your Outcry account with {device} on {When(at)}.

            If it was you, there is nothing to do. If not, end that session under your account and change your password.

            """
        );

    public void Reset(Member member, string link) =>
        Send(
            member.Email,
            "A new password",
            $"""
            Hello {member.DisplayName},

            choose a new password for your Outcry account with this link. It holds for an hour and works once:
            {link}

            If you did not ask for it, let it lie: nothing has changed.

            """
        );

    public void PasswordChanged(Member member) =>
        Send(
            member.Email,
            "Your password was changed",
            $"""
            Hello {member.DisplayName},

            the password of your Outcry account was changed, and every other session was ended.

            If it was not you, choose a new one with "Forgotten your password?" at the door, at once.

            """
        );

    public void FactorChanged(Member member, string what) =>
        Send(
            member.Email,
            what,
            $"""
            Hello {member.DisplayName},

            this happened at your Outcry account just now: {char.ToLowerInvariant(what[0])}{what[1..]}.

            If it was not you, change your password at once.

            """
        );

    public void Confirm(string email, string link) =>
        Send(
            email,
            "Go on with your workspace",
            $"""
            Hello,

            with this link you open your workspace. It holds for a day:
            {link}

            If you did not ask for it, let it lie: nothing is kept.

            """
        );

    public void HasAccount(string email, string link) =>
        Send(
            email,
            "You have an account already",
            $"""
            Hello,

            somebody, perhaps you, wanted to open a workspace with this address. It has an account. Sign in, or choose a new
            password there:
            {link}

            """
        );

    private void Send(string? to, string subject, string text)
    {
        if (to is not null && postman.IsSet)
            _ = Task.Run(() => postman.TrySendAsync(new Letter(to, subject, text), lifetime.ApplicationStopping));
    }

    private static string When(Instant at) =>
        at.InUtc().ToString("d MMMM uuuu, HH:mm 'UTC'", CultureInfo.InvariantCulture);
}
