namespace Outcry.Core.Tests;

/// <summary>How many random cases a law is tried with.</summary>
internal static class Cases
{
    // Each change of the code runs every test: what a law finds at all it nearly always finds within its first cases.
    private static readonly int Share = Environment.GetEnvironmentVariable("OUTCRY_FEW_CASES") == "1" ? 20 : 1;

    /// <summary>The number asked for; a twentieth of it, and at least 50, while changed code is tried.</summary>
    public static int Of(int cases) => Math.Max(Math.Min(cases, 50), cases / Share);
}
