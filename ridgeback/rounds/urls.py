from django.urls import path

from ridgeback.rounds import feeds, ordering, signs, views

app_name = "rounds"
urlpatterns = [
    path("round/", views.round_page, name="round"),
    path("round/week/", views.week, name="week"),
    path("round/changes/", views.changes, name="changes"),
    path("round/<int:pk>/tap/", views.tap, name="tap"),
    path("round/<int:pk>/card/", views.one_card, name="card"),
    path("round/undo/<int:pk>/", views.undo, name="undo"),
    path("animals/<int:pk>/signs/", signs.signs, name="signs"),
    path("round/calendars/", feeds.feeds, name="feeds"),
    path("round/calendars/<int:pk>/away/", feeds.forget_feed, name="forget-feed"),
    path("calendar/<str:secret>.ics", feeds.feed, name="feed"),
    path("round/order/", ordering.order, name="order"),
    path("log/", views.log, name="log"),
]
