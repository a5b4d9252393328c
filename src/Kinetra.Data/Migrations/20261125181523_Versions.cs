using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class Versions : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "rig_version",
                table: "shows",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "settings",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "commands",
                type: "integer",
                nullable: false,
                defaultValue: 0);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "rig_version",
                table: "shows");

            migrationBuilder.DropColumn(
                name: "version",
                table: "settings");

            migrationBuilder.DropColumn(
                name: "version",
                table: "commands");
        }
    }
}
