using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class PlannedTracks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "form",
                table: "tracks",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "Wav24");

            migrationBuilder.AddColumn<bool>(
                name: "is_voice",
                table: "tracks",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "verdict",
                table: "takes",
                type: "jsonb",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "form",
                table: "tracks");

            migrationBuilder.DropColumn(
                name: "is_voice",
                table: "tracks");

            migrationBuilder.DropColumn(
                name: "verdict",
                table: "takes");
        }
    }
}
