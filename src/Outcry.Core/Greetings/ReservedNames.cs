namespace Outcry.Core.Greetings;

/// <summary>Names and numbers that are set apart for examples, so that nobody is behind them.</summary>
public static class ReservedNames
{
    // RFC 2606 and RFC 6761: never given to anybody.
    private static readonly string[] Ends = ["example", "test", "invalid", "localhost", "local"];
    private static readonly string[] Hosts = ["example.com", "example.net", "example.org"];

    // North America: 555-0100 to 555-0199 of each area. United Kingdom: Ofcom's numbers for drama. Australia: ACMA's for
    // fiction. France: ARCEP's. Each as what an E.164 number begins with; "?" is any digit.
    private static readonly string[] Numbers =
    [
        "+1???55501",
        "+442079460",
        "+441134960",
        "+441144960",
        "+441154960",
        "+441164960",
        "+441174960",
        "+441214960",
        "+441314960",
        "+441414960",
        "+441514960",
        "+441614960",
        "+441914980",
        "+44163296",
        "+447700900",
        "+448081570",
        "+449098790",
        "+442896496",
        "+44292018",
        "+61255501",
        "+61355501",
        "+61755501",
        "+61855501",
        "+61491570",
        "+33199001",
        "+33261911",
        "+33353011",
        "+33465711",
        "+33536491",
        "+33639980",
    ];

    /// <summary>Whether a host is one that standards keep for examples and tests, so that nobody can be reached there.</summary>
    /// <param name="host">"studio.example", "example.com", with or without what stands before.</param>
    /// <remarks>RFC 2606 §2 and §3, RFC 6761 §6; ".local" is RFC 6762's.</remarks>
    public static bool IsHost(string host)
    {
        var name = host.TrimEnd('.').ToLowerInvariant();
        return Ends.Any(e => name == e || name.EndsWith($".{e}", StringComparison.Ordinal))
            || Hosts.Any(h => name == h || name.EndsWith($".{h}", StringComparison.Ordinal));
    }

    /// <summary>Whether a number is one that regulators keep for film and fiction, or plainly made up.</summary>
    /// <param name="e164">"+442079460123".</param>
    public static bool IsNumber(string e164)
    {
        var digits = e164.AsSpan(1);
        // A run of one digit, or digits counted up or down, is what stands in forms as a sample.
        return Numbers.Any(n => Begins(e164, n)) || HasRun(digits, 0) || HasRun(digits, 1) || HasRun(digits, -1);
    }

    private const int SampleRun = 7;

    private static bool HasRun(ReadOnlySpan<char> digits, int step)
    {
        var run = 1;
        for (var i = 1; i < digits.Length; i++)
        {
            run = digits[i] - digits[i - 1] == step ? run + 1 : 1;
            if (run >= SampleRun)
                return true;
        }
        return false;
    }

    private static bool Begins(string number, string pattern)
    {
        if (number.Length < pattern.Length)
            return false;
        for (var i = 0; i < pattern.Length; i++)
            if (pattern[i] != '?' && pattern[i] != number[i])
                return false;
        return true;
    }
}
