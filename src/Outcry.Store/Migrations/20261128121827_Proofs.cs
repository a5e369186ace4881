using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Proofs : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "proof",
                table: "sources",
                type: "text",
                nullable: false,
                defaultValue: "Signature"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(name: "proof", table: "sources");
        }
    }
}
