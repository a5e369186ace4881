using System.Text;
using Markdig;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Outcry.Core.Saying;

/// <summary>Reads the small Markdown subset of messages (bold, italic, link, line break) into spans.</summary>
internal static class SpanReader
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().DisableHtml().Build();

    /// <summary>The spans of a message. Anything outside the subset (headings, lists, pictures, code) is read as its text.</summary>
    public static IReadOnlyList<Span> Read(string markdown)
    {
        var spans = new List<Span>();
        foreach (var leaf in Markdown.Parse(markdown, Pipeline).Descendants<LeafBlock>())
        {
            if (spans.Count > 0)
                Append(spans, "\n", default);
            if (leaf.Inline is { } inlines)
                Walk(inlines, default, spans);
            else
                Append(spans, leaf.Lines.ToString(), default);
        }
        return spans;
    }

    private static void Walk(ContainerInline container, Style style, List<Span> spans)
    {
        foreach (var inline in container)
            switch (inline)
            {
                case LiteralInline literal:
                    Append(spans, literal.Content.ToString(), style);
                    break;
                case LineBreakInline:
                    Append(spans, "\n", style);
                    break;
                case HtmlEntityInline entity:
                    Append(spans, entity.Transcoded.ToString(), style);
                    break;
                case CodeInline code:
                    Append(spans, code.Content, style);
                    break;
                case AutolinkInline auto:
                    Append(spans, auto.Url, style with { Link = SafeLink.TryPass(auto.Url) });
                    break;
                case EmphasisInline emphasis:
                    Walk(
                        emphasis,
                        emphasis.DelimiterCount >= 2 ? style with { Bold = true } : style with { Italic = true },
                        spans
                    );
                    break;
                case LinkInline link:
                    Walk(link, style with { Link = link.IsImage ? null : SafeLink.TryPass(link.Url) }, spans);
                    break;
                case ContainerInline other:
                    Walk(other, style, spans);
                    break;
            }
    }

    private static void Append(List<Span> spans, string text, Style style)
    {
        if (text.Length == 0)
            return;
        text = text.Replace(MarkdownEncoder.ValueSpace, ' ');
        if (spans is [.., var last] && (last.Bold, last.Italic, last.Link) == (style.Bold, style.Italic, style.Link))
            spans[^1] = last with { Text = new StringBuilder(last.Text).Append(text).ToString() };
        else
            spans.Add(new Span(text, style.Bold, style.Italic, style.Link));
    }

    private readonly record struct Style(bool Bold, bool Italic, string? Link);
}
