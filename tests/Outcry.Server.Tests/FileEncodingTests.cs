using System.Text;
using Outcry.Server.Intake.Imports;

namespace Outcry.Server.Tests;

/// <summary>How the letters of a file are written is told from the file itself.</summary>
public sealed class FileEncodingTests
{
    private const string Text = "Name;Ort\nZoë Müller;Köln\n";

    public static TheoryData<string, string> Encodings =>
        new()
        {
            { "utf-8", "UTF-8" },
            { "utf-16", "UTF-16" },
            { "utf-16BE", "UTF-16" },
            { "windows-1252", "Windows-1252" },
        };

    [Theory]
    [MemberData(nameof(Encodings))]
    public void Each_encoding_is_told_with_and_without_a_mark(string name, string told)
    {
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);
        var encoding = Encoding.GetEncoding(name);
        foreach (
            var bytes in (byte[][])
                [
                    [.. encoding.GetPreamble(), .. encoding.GetBytes(Text)],
                    encoding.GetBytes(Text),
                ]
        )
        {
            var found = FileEncoding.Of(bytes, isWhole: true);
            Assert.Equal(told, found.Name);
            Assert.EndsWith(Text, found.Encoding.GetString(bytes), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_letter_cut_off_at_the_end_of_the_piece_is_no_fault()
    {
        var bytes = Encoding.UTF8.GetBytes("Köln, Zoë");
        Assert.Equal("UTF-8", FileEncoding.Of(bytes.AsSpan(0, bytes.Length - 1), isWhole: false).Name);
        Assert.Equal("Windows-1252", FileEncoding.Of(bytes.AsSpan(0, bytes.Length - 1), isWhole: true).Name);
    }
}
