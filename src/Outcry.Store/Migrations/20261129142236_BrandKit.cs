using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class BrandKit : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(name: "kit", table: "sites", type: "jsonb", nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "kit", table: "sites");
        }
    }
}
