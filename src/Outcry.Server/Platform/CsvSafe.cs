using System.Globalization;
using CsvHelper.Configuration;

namespace Outcry.Server.Platform;

/// <summary>Writes CSV (RFC 4180) that spreadsheets read as text and never as a formula.</summary>
internal static class CsvSafe
{
    private static readonly System.Buffers.SearchValues<char> Breaking = System.Buffers.SearchValues.Create(
        ",;\"\r\n\t"
    );

    /// <summary>A cell that begins like a formula gets an apostrophe before it (OWASP, CSV injection).</summary>
    public static CsvConfiguration Settings { get; } =
        new(CultureInfo.InvariantCulture)
        {
            InjectionOptions = InjectionOptions.Escape,
            // The full-width forms of = + - @ are read as the plain ones by spreadsheets of East Asian languages.
            InjectionCharacters = ['=', '@', '+', '-', '\t', '\r', '\n', '|', '\uFF1D', '\uFF0B', '\uFF0D', '\uFF20'],
            NewLine = "\r\n",
            // A lone line feed breaks a line for whoever reads it, whatever ours are.
            ShouldQuote = cell => cell.Field is { } text && text.AsSpan().ContainsAny(Breaking),
        };
}
