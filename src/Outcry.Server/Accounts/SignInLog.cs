namespace Outcry.Server.Accounts;

/// <summary>Who came in and went, and who could not. Members by their id, never by an address that somebody typed.</summary>
internal static partial class SignInLog
{
    [LoggerMessage(1501, LogLevel.Information, "Member {Member} signed in")]
    public static partial void SignedIn(this ILogger log, Guid member);

    [LoggerMessage(1502, LogLevel.Information, "Member {Member} signed out")]
    public static partial void SignedOut(this ILogger log, Guid member);

    [LoggerMessage(1503, LogLevel.Warning, "A wrong password was given for member {Member}; none for nobody's account")]
    public static partial void GotWrongPassword(this ILogger log, Guid? member);

    [LoggerMessage(1504, LogLevel.Warning, "A sign-in has to wait {Seconds} s after wrong passwords")]
    public static partial void MadeWait(this ILogger log, double seconds);
}
