using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Kinetra.Data.Migrations
{
    /// <inheritdoc />
    public partial class History : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "deleted_at",
                table: "shows",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "commands",
                type: "character varying(10)",
                maxLength: 10,
                nullable: false,
                defaultValue: "Do");

            migrationBuilder.AddColumn<long>(
                name: "of",
                table: "commands",
                type: "bigint",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "window",
                table: "commands",
                type: "character varying(64)",
                maxLength: 64,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "window_name",
                table: "commands",
                type: "character varying(60)",
                maxLength: 60,
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "deleted_at",
                table: "shows");

            migrationBuilder.DropColumn(
                name: "kind",
                table: "commands");

            migrationBuilder.DropColumn(
                name: "of",
                table: "commands");

            migrationBuilder.DropColumn(
                name: "window",
                table: "commands");

            migrationBuilder.DropColumn(
                name: "window_name",
                table: "commands");
        }
    }
}
