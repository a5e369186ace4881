namespace Outcry.Core.Care;

/// <summary>Masks what the desk may see of private fields.</summary>
public static class Mask
{
    private const string Dots = "•••••";

    /// <summary>"Saoirse M•••••".</summary>
    public static string Name(PersonName name) =>
        name.IsUnknown ? ""
        : name.LastInitial.Length == 0 ? name.First
        : $"{name.First} {name.LastInitial}{Dots}";

    /// <summary>"s•••••@•••••.example": first letter and last part of the domain; empty for what is no address.</summary>
    public static string Email(string? address)
    {
        var at = address?.LastIndexOf('@') ?? -1;
        if (at <= 0)
            return "";
        var dot = address!.LastIndexOf('.');
        return $"{address[0]}{Dots}@{Dots}{(dot > at ? address[dot..] : "")}";
    }

    /// <summary>"•••••34": the last two digits; empty for what has fewer than five.</summary>
    public static string Phone(string? number)
    {
        var digits = (number ?? "").Where(char.IsAsciiDigit).ToArray();
        return digits.Length < 5 ? "" : $"{Dots}{new string(digits[^2..])}";
    }
}
