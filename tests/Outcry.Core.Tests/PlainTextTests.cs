using System.Text;
using CsCheck;
using Outcry.Core.Care;

namespace Outcry.Core.Tests;

public sealed class PlainTextTests
{
    // Not as InlineData: an attribute's strings are stored as UTF-8, which knows no lone surrogate.
    public static readonly TheoryData<string, string> Texts = new()
    {
        { "half \ud800 pair", "half \ufffd pair" },
        { "\udc00", "\ufffd" },
        { "\ufffe\uffff\ufdd0kiln", "kiln" },
    };

    [Theory]
    [MemberData(nameof(Texts))]
    [InlineData("Noor", "Noor")]
    [InlineData("a\0b", "ab")]
    [InlineData("a\u0007b\u0085c", "abc")]
    [InlineData("one\ttwo\nthree", "one\ttwo\nthree")]
    [InlineData("\U0001fffekiln", "kiln")]
    [InlineData("\u202emoor\u202c", "moor")]
    [InlineData("\u2066a\u2069", "a")]
    [InlineData("\u200b\u200d\ufeff", "")]
    [InlineData("\u3164", "")]
    [InlineData(" ", "")]
    [InlineData("👩\u200d🎨", "👩\u200d🎨")]
    [InlineData("Việt", "Việt")]
    [InlineData("é", "é")]
    public void What_is_no_text_is_taken_out_and_what_is_stays(string from, string to) =>
        Assert.Equal(to.Trim().Length == 0 ? "" : to, PlainText.OrNull(from) ?? "");

    [Fact]
    public void A_tower_of_marks_is_cut_to_two_on_each_base()
    {
        var tower = "Z" + new string('\u0335', 40) + "a" + new string('\u0301', 3);
        Assert.Equal("Z\u0335\u0335a\u0301\u0301", PlainText.Clean(tower));
    }

    [Fact]
    public void Plain_text_is_handed_back_as_it_is() =>
        Assert.Same("Hana Kobayashi, Köln £36", PlainText.Clean("Hana Kobayashi, Köln £36"));

    [Theory]
    [InlineData("abcdef", 3, "abc")]
    [InlineData("ab👩‍🎨cd", 4, "ab")]
    [InlineData("ae\u0301x", 2, "a")]
    [InlineData("abc", 0, "")]
    public void A_text_is_clipped_between_characters_only(string text, int most, string clipped) =>
        Assert.Equal(clipped, PlainText.Clip(text, most));

    private static readonly Gen<string> Hostile = Gen.OneOf(
            Gen.Char,
            Gen.Char['\ud800', '\udfff'],
            Gen.Char['\u0300', '\u036f'],
            Gen.Char['\ufdd0', '\ufdef'],
            Gen.Char['\u2000', '\u206f'],
            Gen.Const('\ufffe'),
            Gen.Const('\0')
        )
        .Array[0, 40]
        .Select(c => new string(c));

    [Fact]
    public void Whatever_comes_in_what_goes_out_can_be_stored_and_is_clean_already() =>
        Hostile.Sample(
            text =>
            {
                var clean = PlainText.Clean(text);
                // A strict encoder throws on what is no text.
                new UTF8Encoding(false, throwOnInvalidBytes: true).GetBytes(clean);
                Assert.DoesNotContain('\0', clean);
                Assert.DoesNotContain(clean.EnumerateRunes(), r => PlainText.IsNoncharacter(r.Value));
                Assert.Equal(clean, PlainText.Clean(clean));
            },
            iter: Cases.Of(20_000)
        );

    [Theory]
    [InlineData("""{"a":"plain"}""", """{"a":"plain"}""")]
    [InlineData("""{"a":"\ud800"}""", "{\"a\":\"\ufffd\"}")]
    [InlineData("""{"a":"\udc00\ud83d\ude00"}""", "{\"a\":\"\ufffd\\ud83d\\ude00\"}")]
    [InlineData("""{"a\u0000":"\u0000\ufffe"}""", """{"a":""}""")]
    [InlineData("""{"a":"\\ud800 \\u0000"}""", """{"a":"\\ud800 \\u0000"}""")]
    [InlineData("""{"a":"\uFDD0\u00e9"}""", """{"a":"\u00e9"}""")]
    [InlineData("""{"a":"\ud83f\udffe"}""", """{"a":""}""")]
    [InlineData("\"\\u12", "\"\\u12")]
    public void Json_is_mended_before_anything_reads_it(string from, string to) =>
        Assert.Equal(to, Encoding.UTF8.GetString(JsonGate.Clean(Encoding.UTF8.GetBytes(from)).Span));

    [Fact]
    public void Bytes_that_are_no_text_are_mended_too()
    {
        byte[] broken = [.. "{\"a\":\""u8, 0xff, 0xc3, 0xef, 0xbf, 0xbe, .. "\"}"u8];
        Assert.Equal("\ufffd\ufffd", JsonGate.Parse(broken).GetProperty("a").GetString());
    }

    [Fact]
    public void Whatever_a_page_serialises_its_texts_can_be_read() =>
        Gen
            .Char.Array[0, 30]
            .Sample(
                chars =>
                {
                    // As browsers do it: each half of a pair as an escape of its own.
                    var json = "\"" + string.Concat(chars.Select(c => $"\\u{(int)c:x4}")) + "\"";
                    var read = JsonGate.Parse(json).GetString()!;
                    new UTF8Encoding(false, throwOnInvalidBytes: true).GetBytes(read);
                    Assert.DoesNotContain('\0', read);
                },
                iter: Cases.Of(20_000)
            );
}
