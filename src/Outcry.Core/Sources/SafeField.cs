namespace Outcry.Core.Sources;

/// <summary>Tells form fields whose content must never leave the page, whatever is mapped.</summary>
/// <remarks>The snippet asks the same of the field itself; this is the desk's side, where only names and types are known.</remarks>
public static class SafeField
{
    private static readonly string[] PrivateTypes = ["password", "file", "hidden"];

    private static readonly string[] PrivateNames =
    [
        "password",
        "passwd",
        "cardnumber",
        "ccnumber",
        "cvc",
        "cvv",
        "iban",
        "securitycode",
        "ssn",
    ];

    /// <summary>Whether a field may be mapped, by its type, its name and its autofill tokens (HTML standard).</summary>
    public static bool MayLeave(string name, string type, string autocomplete)
    {
        var folded = new string([.. name.ToLowerInvariant().Where(char.IsLetterOrDigit)]);
        return !PrivateTypes.Contains(type.ToLowerInvariant())
            && !PrivateNames.Any(p => folded.Contains(p, StringComparison.Ordinal))
            && !autocomplete.Split(' ').Any(t => t.StartsWith("cc-", StringComparison.OrdinalIgnoreCase));
    }
}
