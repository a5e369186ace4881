using PhoneNumbers;

namespace Outcry.Core.Care;

/// <summary>Reads phone numbers however they are written, so that one number is one number.</summary>
public static class PhoneNumber
{
    private static readonly PhoneNumberUtil Plans = PhoneNumberUtil.GetInstance();

    /// <summary>Stands for a region that is not known: then only numbers with a country code can be read.</summary>
    public const string UnknownRegion = "ZZ";

    /// <summary>The number in the form of ITU-T E.164, "+4930123456"; null when it is none that could be dialled.</summary>
    /// <param name="written">As somebody wrote it: "030 12 34 56", "+49 (30) 123456", "0049 30 123456".</param>
    /// <param name="region">Where a number without a country code is taken to be dialled: ISO 3166-1, two letters.</param>
    /// <remarks>Length and country codes by libphonenumber's numbering plans; whether anybody answers is not asked.</remarks>
    public static string? ToE164(string? written, string region)
    {
        if (string.IsNullOrWhiteSpace(written) || written.Length > LongestWritten)
            return null;
        try
        {
            var number = Plans.Parse(written, region);
            return Plans.IsPossibleNumber(number) ? Plans.Format(number, PhoneNumberFormat.E164) : null;
        }
        catch (NumberParseException)
        {
            return null;
        }
    }

    /// <summary>Countries and the code by which each is dialled, by country: ISO 3166-1, two letters.</summary>
    public static IReadOnlyList<(string Region, int Code)> Countries { get; } =
    [.. Plans.GetSupportedRegions().Order(StringComparer.Ordinal).Select(r => (r, Plans.GetCountryCodeForRegion(r)))];

    // E.164 has 15 digits at most; signs and spaces between them make it some three times as long.
    private const int LongestWritten = 60;
}
