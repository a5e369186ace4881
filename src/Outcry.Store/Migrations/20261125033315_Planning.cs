using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <summary>Segments, a site's own built-in words, and the facets that briefs have gained.</summary>
    public partial class Planning : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "own_words",
                table: "sites",
                type: "jsonb",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.CreateTable(
                name: "segments",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    rule = table.Column<string>(type: "jsonb", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_segments", x => x.id);
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_segments_name",
                table: "segments",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.Sql(Upgrade("callouts", "draft"));
            migrationBuilder.Sql(Upgrade("revisions", "brief"));
        }

        // A brief written before had a moment for its only kind, a slip for its only shape, and seconds for its only trigger.
        private static string Upgrade(string table, string b) =>
            $$$"""
                update {{{table}}} set {{{b}}} = {{{b}}} || jsonb_build_object(
                    'kind', 'moment',
                    'holdbackPercent', 0,
                    'who', '{"rule":{"kind":"all","rules":[]},"hiddenOn":[]}'::jsonb,
                    'say', (({{{b}}} -> 'say') - 'showTime')
                        || '{"detail":"","button":"","translations":[],"pictureAddress":"","campaign":"","number":"exact","code":""}'::jsonb
                        || jsonb_build_object('time', case when ({{{b}}} #>> '{say,showTime}')::boolean then 'ago' else 'hidden' end),
                    'from', ({{{b}}} -> 'from')
                        || '{"oldestDays":null,"measure":"events","near":"anywhere","pages":[],"ofThisPage":false,"mostLeft":5,"leastStars":4}'::jsonb,
                    'where', ({{{b}}} -> 'where') || '{"groups":[],"replaces":false}'::jsonb,
                    'when', (({{{b}}} -> 'when') - 'afterSeconds')
                        || '{"join":"all","rounds":1,"schedule":{"from":null,"until":null,"hours":[],"eventStarts":null,"eventEnds":null,"untilEvent":"starts","countdownTo":null},"onlyIfAvailable":false}'::jsonb
                        || jsonb_build_object('triggers', jsonb_build_array(
                            jsonb_build_object('kind', 'seconds', 'number', {{{b}}} #> '{when,afterSeconds}', 'target', ''))),
                    'howOften', (({{{b}}} -> 'howOften') - 'everyDays')
                        || '{"mostPerWeek":null,"untilClicked":false,"afterClose":{"unit":"pageView","number":1},"goals":[],"afterSuccess":{"unit":"ever","number":1}}'::jsonb
                        || jsonb_build_object('every', {{{b}}} #> '{howOften,everyDays}'),
                    'look', ({{{b}}} -> 'look') || '{"edge":"bottom","phoneEdge":"bottom","anchor":"","inset":"after"}'::jsonb
                ) where not {{{b}}} ? 'kind'
                """;

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "segments");

            migrationBuilder.DropColumn(name: "own_words", table: "sites");
        }
    }
}
