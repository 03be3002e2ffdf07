#!/bin/sh
# Converts footage as planned: sh convert.sh [--dry-run] [--replace] [--from-working] FOOTAGE_FOLDER OUTPUT_FOLDER
#
#   --dry-run   says what would be made, of which files, and what to know of it; makes nothing
#   --replace   makes again what is there; without it what is there stays
#   --from-working   makes frames that the project makes from a working frame out of the file of that frame, which is made
#               first or lies in OUTPUT_FOLDER already, as it came back from whoever worked on it; without it
#               everything is made straight from the footage
#
# The file of a source has its name, with any ending, and a picture of the raster that was planned for: what
# lies beside it under the same name is passed by, and a file of another raster is refused.
# All that becomes of one file is made while it is read once. The colour tags of the file are kept; a turn that
# its header asks for is carried out once, and the outcome asks for none.
# Outcomes for frames of spheres are told to be spheres where ratiomet is installed beside ffmpeg.
# Files are made as their frames say. For frames that say nothing CODEC and ENDING hold, which can be set in the
# environment.
#
# It does not read numbered pictures, cut in time, blend frames that a new rate takes from between two, or
# convert between colour spaces.
#
# The exit status is 0 when all is there, 1 when something is not, 2 when it could not begin, 130 when stopped.
set -eu
: "${CODEC:=@CODEC@}" "${ENDING:=mov}"
total=@TOTAL@

dry=
replace=
through=
later=
while :; do
    case ${1-} in
        --dry-run) dry=yes ;;
        --replace) replace=yes ;;
        --from-working) through=yes ;;
        --help) sed -n '2,/^set/s/^# \{0,1\}//p' "$0"; exit 0 ;;
        *) break ;;
    esac
    shift
done
if [ "$#" -ne 2 ]; then
    echo "usage: sh convert.sh [--dry-run] [--replace] [--from-working] FOOTAGE_FOLDER OUTPUT_FOLDER" >&2
    exit 2
fi
# ./ so that no name is taken for an option
case $1 in /*) from=$1 ;; *) from=./$1 ;; esac
case $2 in /*) to=$2 ;; *) to=./$2 ;; esac
if [ ! -d "$from" ]; then
    echo "$1 is no folder: name the one that the footage is in" >&2
    exit 2
fi
for program in ffmpeg ffprobe; do
    if ! command -v "$program" >/dev/null; then
        echo "$program is not installed: it comes with ffmpeg" >&2
        exit 2
    fi
done
[ -n "$dry" ] || mkdir -p -- "$to"

# Where the pictures lie that stand on spheres, as filters take it: first as a value, then as a part of a chain.
beside=$(dirname -- "$0" | sed -e "s/[\\\\':]/\\\\&/g" -e "s/[][\\\\',;]/\\\\&/g")

# ffmpeg 6 and newer forget a turn when they read; older ones when they copy.
if ffmpeg -hide_banner -h full 2>/dev/null | grep -q -- -display_rotation; then
    unturned="-display_rotation 0"
else
    unturned=
fi
# How far it is, where somebody looks on.
if [ -t 2 ]; then stats=-stats; else stats=; fi

# The outcomes that show spheres, a line each before how their files say so.
spheres=

at=0
made=0
there=0
failed=0
stopped=
trap 'stopped=yes' INT TERM

file_of() { # name of the source, its raster: sets file, or says why there is none
    other=
    case $1 in */*)
        echo "no file for $1: no name with a slash is looked for" >&2
        return 1
    ;; esac
    for file in "$from"/"$1".*; do
        # An ending has no dot in it: what follows of others belongs to another name.
        case ${file#"$from/$1."} in *.*) continue ;; esac
        if [ -f "$file" ]; then
            raster=$(ffprobe -v error -select_streams v:0 -show_entries stream=width,height -of csv=s=x:p=0 \
                -i "$file" 2>/dev/null | head -n 1) || raster=
            raster=${raster%x}
            if [ "$raster" = "$2" ]; then return 0; fi
            if [ -n "$raster" ]; then other="$file has $raster, and $2 was planned for"; fi
        fi
    done
    echo "no file for $1: ${other:-none of that name in $from holds a picture}" >&2
    return 1
}

names_of() { # name of an outcome, its ending: sets whole, part, turned
    case $2 in as_set) ending=$ENDING ;; *) ending=$2 ;; esac
    whole=$to/$1.$ending
    part=$to/$1.part.$ending
    turned=$to/$1.turned.$ending
}

# What is said of each outcome, seven words: name, filter chain, range, frames or fields, ending, picture, sound.
# The picture is how it is coded, or as_set for CODEC; the sound is how it is coded, copy or none.

together() { # of file makes the parts of all outcomes
    left=$#
    while [ "$left" -gt 0 ]; do
        names_of "$1" "$5"
        filter=$2 range=$3 scan=$4 picture=$6 sound=$7
        shift 7
        left=$((left - 7))
        case $filter in
            *movie=on_spheres/*) filter=${filter%%movie=on_spheres/*}movie=$beside/on_spheres/${filter#*movie=on_spheres/} ;;
        esac
        set -- "$@" -map 0:v:0 -vf "$filter"
        [ "$picture" != as_set ] || picture=$CODEC
        # shellcheck disable=SC2086 # words on purpose
        set -- "$@" $picture
        [ "$scan" = frames ] || set -- "$@" -flags +ildct+ilme
        [ "$range" = unsaid ] || set -- "$@" -color_range "$range"
        [ "$sound" != copy ] || sound="-c:a copy"
        # shellcheck disable=SC2086 # words on purpose
        [ "$sound" = none ] || set -- "$@" -map '0:a?' $sound
        set -- "$@" "$part"
    done
    # shellcheck disable=SC2086 # words on purpose
    ffmpeg -nostdin -v error $stats -y -noautorotate $unturned -i "$file" "$@"
}

sphere() { # name of an outcome that shows a sphere, how its file says so
    shown=$1
    shift
    spheres="$spheres$shown
$*
"
}

tagged() { # name of an outcome, its file: says in the file that it shows a sphere, if it does
    how=
    while IFS= read -r shown && IFS= read -r said; do
        if [ "$shown" = "$1" ]; then how=$said; fi
    done <<EOF
$spheres
EOF
    [ -n "$how" ] || return 0
    case $2 in *.mp4 | *.mov | *.mkv | *.webm) ;; *) return 0 ;; esac
    if ! command -v ratiomet >/dev/null; then
        echo "$1 does not say that it is a sphere: ratiomet is not installed here to tag it" >&2
        return 0
    fi
    # shellcheck disable=SC2086 # several words
    ratiomet tag "$2" --in-place --projection equirectangular $how >/dev/null
}

finish() { # name of an outcome whose part is made, its ending
    names_of "$1" "$2"
    if [ -n "$unturned" ]; then
        # shellcheck disable=SC2015 # both must be so
        tagged "$1" "$part" && mv -f -- "$part" "$whole"
    else
        # shellcheck disable=SC2015 # all must be so
        ffmpeg -nostdin -v error -y -i "$part" -map 0 -c copy -metadata:s:v:0 rotate=0 "$turned" &&
            tagged "$1" "$turned" && mv -f -- "$turned" "$whole" && rm -- "$part"
    fi
}

drop() { # name of an outcome of which nothing half made may stay, its ending
    names_of "$1" "$2"
    rm -f -- "$part" "$turned" || :
}

settle() { # name of an outcome, its ending, whether its part was made: counts it
    if [ "$3" = made ] && finish "$1" "$2"; then
        made=$((made + 1))
    else
        drop "$1" "$2"
        failed=$((failed + 1))
        echo "$1 was not made" >&2
    fi
}

convert() { # name of the source, its raster, then what is said of each outcome
    if [ -n "$stopped" ]; then return 0; fi
    name=$1 raster=$2
    shift 2
    left=$#
    # Without what is there already.
    while [ "$left" -gt 0 ]; do
        outcome=$1 filter=$2 range=$3 scan=$4 made_as=$5 picture=$6 sound=$7
        shift 7
        left=$((left - 7))
        names_of "$outcome" "$made_as"
        if [ -z "$replace" ] && [ -e "$whole" ]; then
            at=$((at + 1))
            there=$((there + 1))
            echo "[$at/$total] $outcome is there already"
        else
            set -- "$@" "$outcome" "$filter" "$range" "$scan" "$made_as" "$picture" "$sound"
        fi
    done
    if [ "$#" -eq 0 ]; then return 0; fi
    count=$(($# / 7))
    if [ -n "$dry" ] && [ -n "$later" ]; then
        file="$to/$name as it will be"
    elif ! file_of "$name" "$raster"; then
        at=$((at + count))
        failed=$((failed + count))
        return 0
    fi
    left=$#
    while [ "$left" -gt 0 ]; do
        outcome=$1
        at=$((at + 1))
        names_of "$outcome" "$5"
        if [ -e "$whole" ]; then again=", which replaces the one that is there"; else again=; fi
        echo "[$at/$total] $outcome of $file$again"
        set -- "$@" "$1" "$2" "$3" "$4" "$5" "$6" "$7"
        shift 7
        left=$((left - 7))
    done
    if [ -n "$dry" ]; then
        made=$((made + count))
    elif [ "$count" -eq 1 ]; then
        if together "$@" && [ -z "$stopped" ]; then settle "$1" "$5" made; else settle "$1" "$5" failed; fi
    elif together "$@" && [ -z "$stopped" ]; then
        while [ "$#" -gt 0 ]; do
            settle "$1" "$5" made
            shift 7
        done
    else
        # One of them stops all: each by itself shows which.
        left=$#
        while [ "$left" -gt 0 ]; do
            drop "$1" "$5"
            set -- "$@" "$1" "$2" "$3" "$4" "$5" "$6" "$7"
            shift 7
            left=$((left - 7))
        done
        while [ "$#" -gt 0 ] && [ -z "$stopped" ]; do
            if together "$1" "$2" "$3" "$4" "$5" "$6" "$7" && [ -z "$stopped" ]; then
                settle "$1" "$5" made
            else
                settle "$1" "$5" failed
            fi
            shift 7
        done
    fi
}

straight() { # as convert, of what the project makes from a working frame
    if [ -z "$through" ]; then convert "$@"; fi
}

onward() { # as convert, of the file of a working frame
    if [ -n "$through" ]; then
        footage=$from
        from=$to later=yes
        convert "$@"
        from=$footage later=
    fi
}

note() { # name of an outcome, what to know of it
    if [ -n "$dry" ]; then echo "$1: $2"; fi
}

lacking() { # name of an outcome that has no recipe, and why
    at=$((at + 1))
    failed=$((failed + 1))
    echo "[$at/$total] $1 has no recipe: $2" >&2
}

