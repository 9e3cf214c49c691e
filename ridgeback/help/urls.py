from django.urls import path

from ridgeback.help import views

app_name = "help"
urlpatterns = [
    path("help/", views.topics, name="list"),
    path("help/keys/", views.keys, name="keys"),
    path("help/terms/", views.terms, name="terms"),
    path("help/<slug:slug>/", views.topic, name="topic"),
]
