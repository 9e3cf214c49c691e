from django.urls import path

from ridgeback.today import (
    behaviour,
    calendar_feeds,
    illness_signs,
    log_menu,
    ordering,
    shelf_logging,
    views,
)

app_name = "today"
urlpatterns = [
    path("today/", views.today_page, name="page"),
    path("today/week/", views.week, name="week"),
    path("today/shelf/", shelf_logging.log_shelf, name="log-shelf"),
    path("today/changes/", views.changes, name="changes"),
    path("today/<int:pk>/log/", views.log_task, name="log-task"),
    path("today/<int:pk>/card/", views.one_card, name="card"),
    path("today/undo/<int:pk>/", views.undo, name="undo"),
    path("animals/<int:pk>/illness-signs/", illness_signs.illness_signs, name="illness-signs"),
    path("animals/<int:pk>/behaviour/", behaviour.behaviour, name="behaviour"),
    path("today/calendars/", calendar_feeds.feeds, name="feeds"),
    path("today/calendars/<int:pk>/delete/", calendar_feeds.delete_feed, name="delete-feed"),
    path("calendar/<str:secret>.ics", calendar_feeds.feed, name="feed"),
    path("today/order/", ordering.order, name="order"),
    path("log/", views.log, name="log"),
    path("log/new/", log_menu.choose, name="choose"),
]
