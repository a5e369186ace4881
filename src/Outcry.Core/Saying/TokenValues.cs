namespace Outcry.Core.Saying;

/// <summary>What each token is worth, as it is said; of numbers also their value, from which the form of a noun follows.</summary>
public sealed class TokenValues : Dictionary<string, string>
{
    /// <summary>The value behind what is said of a number: "1,204" is 1204, and "30+" is 30.</summary>
    public Dictionary<string, decimal> Numbers { get; } = [];

    /// <summary>Sets a number with what is said of it.</summary>
    public void SetNumber(string token, decimal number, string said)
    {
        this[token] = said;
        if (said.Length > 0)
            Numbers[said] = number;
    }
}
