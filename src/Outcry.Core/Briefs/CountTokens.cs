using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>The tokens of counts and notices.</summary>
public static class CountTokens
{
    /// <summary>The count.</summary>
    public const string Number = "number";

    /// <summary>The stretch it truly covers: "in the last 16 hours".</summary>
    public const string Period = "period";

    /// <summary>The code to copy.</summary>
    public const string Code = "code";
}
