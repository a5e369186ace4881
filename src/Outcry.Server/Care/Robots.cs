using System.Collections.Concurrent;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Outcry.Server.Platform;

namespace Outcry.Server.Care;

/// <summary>Tells robots from people by the user agent they give, with the patterns of the package crawler-user-agents.</summary>
/// <remarks>A robot that calls itself a browser cannot be told so; most say what they are.</remarks>
internal sealed class Robots
{
    /// <summary>User agents remembered; a site meets a few hundred, and a flood of made-up ones must not fill memory.</summary>
    private const int MostRemembered = 5_000;

    // A published pattern is no promise of a quick match; what takes longer than this is no robot's name.
    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(20);

    private readonly Regex[] _patterns;
    private readonly ConcurrentDictionary<string, bool> _known = new();

    public Robots()
    {
        _patterns =
        [
            .. EmbeddedJson
                .Read<RobotPattern[]>("robots.json")
                .Select(r => new Regex(r.Pattern, RegexOptions.CultureInvariant, Patience)),
        ];
    }

    /// <summary>Whether it says that it is a robot; one that gives no user agent at all is taken for one.</summary>
    public bool IsRobot(string userAgent)
    {
        if (userAgent.Length == 0)
            return true;
        if (_known.TryGetValue(userAgent, out var known))
            return known;
        if (_known.Count >= MostRemembered)
            _known.Clear();
        return _known[userAgent] = Array.Exists(_patterns, p => Matches(p, userAgent));
    }

    private static bool Matches(Regex pattern, string userAgent)
    {
        try
        {
            return pattern.IsMatch(userAgent);
        }
        catch (RegexMatchTimeoutException)
        {
            return false;
        }
    }

    private sealed record RobotPattern([property: JsonPropertyName("pattern")] string Pattern);
}
